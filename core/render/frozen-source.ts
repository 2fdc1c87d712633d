/**
 * A sound after processors that are too heavy to be heard live: made ahead in segments that lie at fixed places, each
 * with the chain's whole memory as run-up, and kept by what it was made from. Their samples are those of a render, or
 * differ from them below −140 dB where a recursive filter remembers for longer.
 */
import type { Clip } from "../edit-list/clip";
import { cachedSegmentSource } from "../audio/cached-segment-source";
import type { FrameSource } from "../audio/frame-source";
import { sha256Of } from "../math/sha256";
import type { StreamFormat } from "../audio/stream-format";
import { soundingEntry, type ChainEntry } from "../processors";
import type { RepairStep } from "../repair";
import type { SegmentStore } from "../repair/repaired-source";
import type { Frames, Hertz, Seconds } from "../audio/units";
import { ChainReader } from "./chain-reader";
import { chainMemorySeconds } from "./chain-stage";
import { canonicalJson } from "../math/canonical-json";
import { CORE_VERSION } from "../audio/core-version";

/** Short, so that what lies under the playhead is made soon after a change. */
const SEGMENT: Seconds = 2;

export const frozenFrames = (sampleRate: Hertz): Frames => Math.round(SEGMENT * sampleRate);

/** What frozen sound is made from. */
export interface Frozen {
  /** What the recording's content is known by. */
  content: string;
  repairs: readonly RepairStep[];
  clips: readonly Clip[] | null;
  /** The processors that are frozen, first of the chain. */
  chain: readonly ChainEntry[];
}

const keyOf = ({ content, repairs, clips, chain }: Frozen, segment: number): string => {
  const sounding = chain.map(soundingEntry);
  const steps = repairs.map(({ id: _, ...step }) => step);
  return `frozen-${sha256Of(canonicalJson([CORE_VERSION, content, steps, clips, sounding]))}/${segment}`;
};

/** Makes segments one by one; those that follow one another go on where the last one ended. */
export class Freezer {
  #reader: ChainReader | null = null;

  /** @param source the recording after its repairs, as it is arranged */
  constructor(
    readonly source: FrameSource,
    readonly format: StreamFormat,
    readonly frozen: Frozen,
    readonly store: SegmentStore,
  ) {}

  /** @throws Error where a processor fails */
  async make(segment: number): Promise<void> {
    const key = keyOf(this.frozen, segment);
    if (await this.store.get(key)) return;
    const { sampleRate, frames } = this.source;
    const length = frozenFrames(sampleRate);
    const start = segment * length;
    if (this.#reader?.position !== start) {
      const runUp = Math.ceil(chainMemorySeconds(this.frozen.chain) * sampleRate);
      const range = { start: 0, end: frames };
      this.#reader = new ChainReader(this.source, range, this.frozen.chain, this.format, start, runUp);
    }
    const block = await this.#reader.read(Math.min(length, frames - start));
    const [failure] = this.#reader.failures;
    if (failure) throw new Error(failure.why);
    this.store.put(
      key,
      block.map((x) => x.slice()),
    );
  }
}

/** The sound after what is frozen, as far as it is made; as it came where it is not yet. */
export const frozenSource = (source: FrameSource, frozen: Frozen, store: SegmentStore): FrameSource =>
  cachedSegmentSource(source, frozenFrames(source.sampleRate), (segment) => store.get(keyOf(frozen, segment)));
