/** One recording laid on another, opened: for measuring their difference, and for writing it. */
import { align, alignedAt, type Alignment } from "@core/compare/alignment";
import { difference } from "@core/compare/difference";
import type { FrameSource } from "@core/audio/frame-source";

export interface Comparison {
  alignment: Alignment;
  /** The first less the second, aligned and at one level. */
  difference: FrameSource;
}

/**
 * @param madeOfIt whether the second was made of the first: the two lie at one place
 * @throws Error where they cannot be compared: other rates, silence
 */
export async function compared(first: FrameSource, second: FrameSource, madeOfIt: boolean): Promise<Comparison> {
  const alignment = await (madeOfIt ? alignedAt(first, second, 0) : align(first, second));
  return { alignment, difference: difference(first, second, alignment) };
}
