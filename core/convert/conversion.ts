/** What a new recording can be made of: other channels, another tempo, another pitch, another rate. */
import { exp2 } from "../math/deterministic-math";
import * as z from "zod";
import type { FrameSource } from "../audio/frame-source";
import { Shuttle } from "../monitoring/shuttle";
import { ResampleStage } from "../dsp/resampling";
import { type Stage } from "../audio/stage";
import { Cancelled, type Cancellation } from "../audio/cancellation";
import { withoutNonFinite } from "../audio/non-finite";
import { layoutForChannels, type Layout } from "../audio/layout";
import { framesOf, slicePlanar, type Frames, type Hertz, type Planar } from "../audio/units";
import { readAround } from "../repair/repaired-source";
import { stretched } from "./stretch";

export const conversionSchema = z.strictObject({
  /** All channels as they are, their mean, or only one of them, from 0. */
  channels: z.union([z.enum(["all", "mean"]), z.number().int().min(0).max(23)]).default("all"),
  /** 1 as it is; 2 in half the time. */
  tempo: z.number().min(0.25).max(4).default(1),
  semitones: z.number().min(-12).max(12).default(0),
  /** Formants stay where they are when the pitch moves. */
  formants: z.boolean().default(true),
  /** Waveforms laid over each other, best for one voice; or phases, best for music. */
  method: z.enum(["voice", "music"]).default("music"),
  /** Hz; absent as it is. */
  sampleRate: z.number().int().min(8000).max(384_000).optional(),
});
export type Conversion = z.infer<typeof conversionSchema>;

/** Ratios of pitch are taken as a whole number over this: within a fifth of a cent. */
const PITCH_STEPS = 4000;
const READ: Frames = 16_384;

export interface Converted {
  layout: Layout;
  sampleRate: Hertz;
  frames: Frames;
  /** What comes out, in order. @throws Cancelled */
  blocks: AsyncGenerator<Planar>;
}

/** A source converted, in one pass and flat memory. Nothing to do gives the same bits. */
export function converted(
  source: FrameSource,
  layout: Layout,
  conversion: Conversion,
  options: { cancellation?: Cancellation; onProgress?: (fraction: number) => void } = {},
): Converted {
  const { channels, tempo, semitones, formants, method } = conversion;
  const chosen = channels === "all" ? source : channelSource(source, channels);
  const sampleRate = conversion.sampleRate ?? source.sampleRate;
  const pitch = Math.round(PITCH_STEPS * exp2(semitones / 12)) / PITCH_STEPS;
  const stages: Stage[] = [];
  if (pitch !== 1) stages.push(new ResampleStage(Math.round(pitch * PITCH_STEPS), PITCH_STEPS, chosen.channels));
  if (sampleRate !== source.sampleRate) stages.push(new ResampleStage(source.sampleRate, sampleRate, chosen.channels));
  const speed = tempo / pitch;
  const input =
    speed === 1
      ? plain(chosen)
      : method === "voice"
        ? shuttled(chosen, speed)
        : stretched(chosen, { speed, ...(formants && pitch !== 1 ? { envelope: pitch } : {}) });
  const frames = Math.round((chosen.frames / tempo) * (sampleRate / source.sampleRate));
  return {
    layout: channels === "all" ? layout : layoutForChannels(1),
    sampleRate,
    frames,
    blocks: throughStages(input, stages, frames, options),
  };
}

/** One channel of a source, or the mean of all. */
function channelSource(source: FrameSource, which: "mean" | number): FrameSource {
  const { sampleRate, frames, channels } = source;
  if (which !== "mean" && which >= channels)
    throw new Error(`There is no channel ${which + 1}; the recording has ${channels}.`);
  return {
    sampleRate,
    frames,
    channels: 1,
    async read(start, count) {
      const block = await source.read(start, count);
      if (which !== "mean") return [block[which]!];
      const mean = new Float32Array(framesOf(block));
      for (const x of block) for (let i = 0; i < mean.length; i++) mean[i]! += x[i]! / block.length;
      return [mean];
    },
  };
}

async function* plain(source: FrameSource): AsyncGenerator<Planar> {
  for (let at = 0; at < source.frames; at += READ)
    yield (await source.read(at, Math.min(READ, source.frames - at))).map((x) => x.slice());
}

async function* shuttled(source: FrameSource, speed: number): AsyncGenerator<Planar> {
  const shuttle = new Shuttle((start, count) => readAround(source, start, start + count), 0, speed, source.sampleRate);
  const total = Math.round(source.frames / speed);
  for (let made = 0; made < total;) {
    const block = await shuttle.next();
    const count = Math.min(framesOf(block), total - made);
    made += count;
    yield slicePlanar(block, 0, count).map((x) => x.slice());
  }
}

async function* throughStages(
  input: AsyncGenerator<Planar>,
  stages: readonly Stage[],
  total: Frames,
  { cancellation, onProgress }: { cancellation?: Cancellation; onProgress?: (fraction: number) => void },
): AsyncGenerator<Planar> {
  let given = 0;
  const fitted = (block: Planar): Planar => slicePlanar(block, 0, Math.min(framesOf(block), total - given));
  const pushed = (block: Planar, first: number) =>
    stages.slice(first).reduce((now, stage) => (framesOf(now) > 0 ? stage.push(now) : now), block);
  for await (const block of input) {
    if (cancellation?.aborted) throw new Cancelled();
    const out = fitted(pushed(withoutNonFinite(block, framesOf(block)).clean, 0));
    if (framesOf(out) === 0) continue;
    yield out;
    given += framesOf(out);
    onProgress?.(given / total);
  }
  for (let i = 0; i < stages.length; i++) {
    const out = fitted(pushed(stages[i]!.finish(), i + 1));
    if (framesOf(out) === 0) continue;
    yield out;
    given += framesOf(out);
  }
  onProgress?.(1);
}
