/** What is listened to, from any place on: a recording through a chain, less another one; a band of it; at a speed. */
import type { Clip } from "@core/edit-list/clip";
import type { FrameSource } from "@core/audio/frame-source";
import { Shuttle } from "@core/monitoring/shuttle";
import type { StreamFormat } from "@core/audio/stream-format";
import type { ChainEntry } from "@core/processors";
import type { RepairStep } from "@core/repair";
import { ChainReader } from "@core/render/chain-reader";
import { chainMemorySeconds, type Failure, type Reductions } from "@core/render/chain-stage";
import { bandPass, type Band, type BiquadFilter } from "@core/dsp/butterworth";
import { dbToGain } from "@core/audio/decibel";
import { stereoDownmix, downmixed } from "@core/audio/downmix";
import { emptyPlanar, framesOf, slicePlanar, type Frames, type Planar } from "@core/audio/units";

/** A recording that can be heard in the item's place. */
export interface PlaybackSource {
  /** `null`: the item's own recording. */
  url: string | null;
  /** Done to the recording first. */
  repairs: RepairStep[];
  /** What of the recording is heard, in which order; `null` for all of it. */
  clips: Clip[] | null;
  chain: ChainEntry[];
  /** So many of the first processors were made ahead; only of the item's own recording. */
  frozen: number;
  gainDb: number;
}

/** What of a source's chain is worked out while it is heard. */
export const liveChain = ({ chain, frozen }: PlaybackSource): ChainEntry[] => chain.slice(frozen);

/** What is heard: a source, less another one where only a difference is wanted. */
export interface PlaybackPlan {
  main: PlaybackSource;
  subtract: PlaybackSource | null;
}

/** A recording that has been opened, at the item's rate. */
export interface OpenedSource {
  source: FrameSource;
  format: StreamFormat;
}

export interface PlaybackOptions {
  plan: PlaybackPlan;
  band: Band | null;
  /** 1 is as recorded; below 0 backwards. */
  speed: number;
}

/** Kept behind the place that a shuttle has reached. */
const KEPT_SECONDS = 0.3;
/** Read at a time for a shuttle. */
const SHUTTLE_SPAN: Frames = 4096;

/** One source as blocks of the item's channels. */
class SourceReader {
  readonly #chain: ChainReader;
  readonly #gain: number;

  constructor(
    readonly played: PlaybackSource,
    readonly opened: OpenedSource,
    readonly channels: number,
    frames: Frames,
    start: Frames,
    runUp: Frames,
  ) {
    const range = { start: 0, end: Math.min(opened.source.frames, frames) };
    this.#chain = new ChainReader(opened.source, range, liveChain(played), opened.format, start, runUp);
    this.#gain = dbToGain(played.gainDb);
  }

  /** Just as many frames as asked for: silence where the recording is over. */
  async read(frames: Frames): Promise<Planar> {
    const block = fitted(await this.#chain.read(frames), this.opened.format, this.channels, frames);
    const gain = this.#gain;
    return gain === 1 ? block : block.map((x) => x.map((v) => v * gain));
  }

  takeGainReduction(): Reductions {
    return this.#chain.takeGainReduction();
  }

  get failures(): Failure[] {
    return this.#chain.failures;
  }
}

/** A block in as many channels as the item has, and as long as was asked for. */
function fitted(block: Planar, { layout }: StreamFormat, channels: number, frames: Frames): Planar {
  const held = framesOf(block);
  if (held === frames && block.length === channels) return block;
  const out = emptyPlanar(channels, frames);
  if (held === 0) return out;
  const sides = block.length === channels ? block : sidesOf(block, layout.speakers.length, layout, held);
  out.forEach((x, c) => {
    if (sides[c]) x.set(sides[c]);
  });
  return out;
}

function sidesOf(block: Planar, channels: number, layout: StreamFormat["layout"], frames: Frames): Planar {
  const gains = stereoDownmix(layout);
  return downmixed(block.slice(0, channels), [gains.map(([left]) => left), gains.map(([, right]) => right)], frames);
}

export class PlaybackReader {
  readonly #main: SourceReader;
  readonly #subtract: SourceReader | null;
  readonly #band: BiquadFilter | null;
  readonly #shuttle: Shuttle | null;
  readonly #speed: number;
  #given = 0;
  #ready: Planar;
  /** For a shuttle forwards: what has been read, from frame `#heldFrom` on. */
  #held: Planar;
  #heldFrom: Frames;

  constructor(
    readonly options: PlaybackOptions,
    opened: { main: OpenedSource; subtract: OpenedSource | null },
    readonly format: StreamFormat,
    /** Length of the item. */
    readonly frames: Frames,
    readonly start: Frames,
    runUp: Frames,
  ) {
    const { plan, band, speed } = options;
    const channels = format.layout.speakers.length;
    this.#main = new SourceReader(plan.main, opened.main, channels, frames, start, runUp);
    this.#subtract =
      plan.subtract && opened.subtract
        ? new SourceReader(plan.subtract, opened.subtract, channels, frames, start, runUp)
        : null;
    this.#band = band ? bandPass(band, channels, format.sampleRate) : null;
    this.#speed = speed;
    this.#ready = emptyPlanar(channels, 0);
    this.#held = emptyPlanar(channels, 0);
    this.#heldFrom = start;
    const { source } = opened.main;
    const backwards = async (from: Frames, count: Frames) => {
      const first = Math.max(0, from);
      const block = await source.read(first, Math.max(0, from + count - first));
      const late = first - from;
      const out = emptyPlanar(channels, count);
      fitted(block, opened.main.format, channels, framesOf(block)).forEach((x, c) => out[c]!.set(x, late));
      return out;
    };
    this.#shuttle =
      speed === 1
        ? null
        : new Shuttle(
            speed > 0 ? (from, count) => this.#ahead(from, count) : backwards,
            start,
            speed,
            format.sampleRate,
          );
  }

  /** Frame of the item that the next `read` begins with. */
  get position(): Frames {
    return Math.round(this.start + this.#given * this.#speed);
  }

  /** The next `frames` frames of what is heard, fewer only at the end of the item. */
  async read(frames: Frames): Promise<Planar> {
    const left = this.#speed > 0 ? this.frames - this.position : this.position;
    const count = Math.max(0, Math.min(frames, Math.ceil(left / Math.abs(this.#speed))));
    const block = this.#shuttle ? await this.#shuttled(count) : await this.#straight(count);
    this.#given += count;
    this.#band?.process(block);
    return block;
  }

  async #straight(count: Frames): Promise<Planar> {
    const main = await this.#main.read(count);
    const subtract = this.#subtract && (await this.#subtract.read(count));
    if (!subtract && !this.#band) return main;
    return main.map((x, c) => (subtract ? x.map((v, i) => v - subtract[c]![i]!) : x.slice()));
  }

  async #shuttled(count: Frames): Promise<Planar> {
    while (framesOf(this.#ready) < count) this.#ready = joined(this.#ready, await this.#shuttle!.next());
    const block = slicePlanar(this.#ready, 0, count).map((x) => x.slice());
    this.#ready = slicePlanar(this.#ready, count, framesOf(this.#ready));
    return block;
  }

  /** Frames from any place near the one that was reached; silence before the start. */
  async #ahead(from: Frames, count: Frames): Promise<Planar> {
    while (this.#heldFrom + framesOf(this.#held) < from + count)
      this.#held = joined(this.#held, await this.#straight(SHUTTLE_SPAN));
    const spare = from - Math.round(KEPT_SECONDS * this.format.sampleRate) - this.#heldFrom;
    if (spare > 0) {
      this.#held = slicePlanar(this.#held, spare, framesOf(this.#held));
      this.#heldFrom += spare;
    }
    const missing = Math.max(0, this.#heldFrom - from);
    return this.#held.map((x) => {
      const out = new Float32Array(count);
      const at = Math.max(0, from - this.#heldFrom);
      out.set(x.subarray(at, at + count - missing), missing);
      return out;
    });
  }

  takeGainReduction(): Reductions {
    return this.#main.takeGainReduction();
  }

  /** Processors that had to be muted. */
  get failures(): Failure[] {
    return this.#main.failures;
  }
}

function joined(a: Planar, b: Planar): Planar {
  return b.map((x, c) => {
    const both = new Float32Array(framesOf(a) + x.length);
    both.set(a[c]!);
    both.set(x, framesOf(a));
    return both;
  });
}

/** How much of the past matters to what is heard now, in seconds. */
export const playbackMemorySeconds = ({ main, subtract }: PlaybackPlan): number =>
  Math.max(chainMemorySeconds(liveChain(main)), subtract ? chainMemorySeconds(liveChain(subtract)) : 0);
