/** A programme's sound from what decides it: the same for server and command line. */
import type { FrameSource } from "../audio/frame-source";
import type { Frames, Hertz } from "../audio/units";
import { fittedSource } from "../programme/fitted-source";
import { voicesSource, programmeSource } from "../programme/programme-source";
import { framesAt } from "../programme/timeline";
import { processedSource } from "../render/processed-source";
import { placementOf } from "../programme/placement";
import type { Layout } from "../audio/layout";
import type { MasterInputs } from "./master-inputs";
import type { ProgrammeInputs } from "./programme-inputs";

/** @param itemSource an item after its repairs, cuts and chain */
export function programmeSound(inputs: ProgrammeInputs, itemSource: (id: string) => FrameSource): FrameSource {
  const { items, lanes, layout } = inputs;
  const layouts = new Map(items.map(({ id, render }) => [id, render.layout]));
  return programmeSource({
    timeline: inputs,
    items,
    lanes,
    openItem: (id) => fittedSource(itemSource(id), layouts.get(id)!, inputs),
    processed: (lane, chain, keys) => processedSource(lane, { repairs: [], chain }, layout, keys),
  });
}

/** An item by itself as it comes and goes in the programme. */
export function fadedSource(
  source: FrameSource,
  layout: Layout,
  fades: NonNullable<MasterInputs["fades"]>,
): FrameSource {
  const placement = placementOf({ placement: fades });
  const { frames, sampleRate } = source;
  const inset = Math.round((placement.fadeOut?.insetSeconds ?? 0) * sampleRate);
  return voicesSource([{ placed: { start: 0, end: frames, lane: null }, placement, source }], {
    sampleRate,
    layout,
    frames: Math.max(1, frames - inset),
  });
}

/** A stretch of a programme in frames of a master of it, which may have another rate. */
export const framesInMaster = (frame: Frames, programmeRate: Hertz, masterRate: Hertz): Frames =>
  framesAt({ frames: frame, sampleRate: programmeRate }, masterRate);
