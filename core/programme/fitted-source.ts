/** An item's sound at the programme's rate and in its channels. */
import type { FrameSource } from "../audio/frame-source";
import type { Layout } from "../audio/layout";
import { emptyPlanar, framesOf, joinedPlanar, slicePlanar, type Frames, type Hertz, type Planar } from "../audio/units";
import { ResampleStage } from "../dsp/resampling";
import { framesAt } from "./timeline";

/** Stretches that are converted by themselves, each with a run-up longer than the filter. */
const STRETCH_SECONDS = 20;
const RUN_UP_SECONDS = 2;
const BLOCK: Frames = 8192;

/** Converts from fixed places on, so that any block is the same bits wherever reading began. */
function convertedSource(source: FrameSource, rate: Hertz): FrameSource {
  if (source.sampleRate === rate) return source;
  const { sampleRate: from, channels } = source;
  const frames = framesAt(source, rate);
  let stage: ResampleStage;
  let stretch = -1;
  let ready: Planar = emptyPlanar(channels, 0);
  /** Frame of the source that comes next, and of the output that `ready` begins with. */
  let [fed, at] = [0, 0];

  const begin = (next: number): void => {
    stretch = next;
    const second = Math.max(0, next * STRETCH_SECONDS - RUN_UP_SECONDS);
    stage = new ResampleStage(from, rate, channels);
    ready = emptyPlanar(channels, 0);
    [fed, at] = [second * from, second * rate];
  };
  const feed = async (): Promise<void> => {
    const block = fed < source.frames ? await source.read(fed, BLOCK) : emptyPlanar(channels, BLOCK);
    fed += framesOf(block) || BLOCK;
    ready = joinedPlanar([ready, stage.push(block)], channels);
  };
  return {
    sampleRate: rate,
    channels,
    frames,
    async read(start, count) {
      const parts: Planar[] = [];
      const end = Math.min(frames, start + count);
      for (let here = start; here < end;) {
        const wanted = Math.floor(here / (STRETCH_SECONDS * rate));
        if (wanted !== stretch || here < at) begin(wanted);
        const to = Math.min(end, (wanted + 1) * STRETCH_SECONDS * rate);
        while (at + framesOf(ready) < to) {
          await feed();
          // What lies before is not asked for again.
          const spare = Math.min(Math.max(0, here - at), framesOf(ready));
          ready = slicePlanar(ready, spare, framesOf(ready));
          at += spare;
        }
        const part = slicePlanar(ready, here - at, to - at);
        parts.push(part.map((x) => x.slice()));
        ready = slicePlanar(ready, to - at, framesOf(ready));
        here = to;
        at = to;
      }
      return joinedPlanar(parts, channels);
    },
  };
}

/** Index of the item's channel that each of the programme's takes; `null` where it is silent. */
function channelMap(from: Layout, to: Layout): (number | null)[] {
  const labels = from.speakers.map(({ label }) => label);
  if (labels.length === 1)
    return to.speakers.map(({ label }, c) =>
      label === "L" || label === "R" || to.speakers.length === 1 || c < 0 ? 0 : null,
    );
  return to.speakers.map(({ label }) => (labels.includes(label) ? labels.indexOf(label) : null));
}

/** Why an item of one layout cannot stand in a programme of another; `null` where it can. */
export function layoutProblem(from: Layout, to: Layout): string | null {
  const taken = new Set(channelMap(from, to));
  const lost = from.speakers.filter((_, c) => !taken.has(c)).map(({ label }) => label);
  return lost.length === 0 ? null : `${from.name} has ${lost.join(", ")}, which ${to.name} has not`;
}

/** The source as the programme has it: one channel goes to left and right alike, others to speakers of their name. */
export function fittedSource(
  source: FrameSource,
  layout: Layout,
  to: { sampleRate: Hertz; layout: Layout },
): FrameSource {
  const converted = convertedSource(source, to.sampleRate);
  const map = channelMap(layout, to.layout);
  if (map.length === converted.channels && map.every((from, c) => from === c)) return converted;
  const { sampleRate, frames } = converted;
  return {
    sampleRate,
    frames,
    channels: map.length,
    async read(start, count) {
      const block = await converted.read(start, count);
      const silence = new Float32Array(framesOf(block));
      return map.map((from) => (from === null ? silence : block[from]!));
    },
  };
}
