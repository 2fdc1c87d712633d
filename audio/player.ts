/**
 * Fills the ring with what is to be heard. Every change (a setting, a jump, another source, a loop's end) is the same
 * thing: from a little ahead of the audio thread on, the ring is written anew, cross-faded with what stood there.
 */
import type { FrameSource } from "@core/files/sound-file";
import type { StreamFormat } from "@core/measure/measurement";
import type { ChainEntry } from "@core/process";
import { ChainReader } from "@core/render/chain-reader";
import { chainMemorySeconds } from "@core/render/chain-stage";
import type { StreamRange } from "@core/render/stage";
import { dbToGain } from "@core/signal/decibel";
import { foldDown } from "@core/signal/fold-down";
import { framesOf, type Frames, type Planar } from "@core/signal/units";
import { LiveMeter } from "./live-meter";
import { framesBetween, RING_FRAMES, type Ring } from "./ring";

export type Heard = "original" | "now";

export interface PlayerSettings {
  chain: ChainEntry[];
  heard: Heard;
  /** Gain on what is heard as "now", so that both are equally loud; dB. */
  matchDb: number;
  /** Frames of the source. */
  loop: StreamRange | null;
}

/** Written ahead of what is heard. */
const AHEAD: Frames = RING_FRAMES / 2;
const FADE_SECONDS = 0.005;
/** A change is written no nearer than this to the audio thread. */
const GUARD_SECONDS = 0.012;
/** Run-up before a change is heard, frames × channels: shorter than the chain's memory, so that it comes at once. */
const CHANGE_RUN_UP_SAMPLES = 9600;
const SPAN: Frames = 2048;
/** Written at once when the ring is written anew, frames × channels: enough to go on from while the rest follows. */
const FIRST_SAMPLES = 8192;

/** The reduction shown falls by this from one pump to the next. */
const REDUCTION_FALL_DB = 0.15;

interface Segment {
  device: number;
  file: Frames;
}

export class Player {
  readonly #meter: LiveMeter;
  readonly #fold: ReturnType<typeof foldDown>;
  readonly #fade: Frames;
  readonly #guard: Frames;
  readonly #firstSpan: Frames;
  #settings: PlayerSettings = { chain: [], heard: "now", matchDb: 0, loop: null };
  #reader: ChainReader;
  #segments: Segment[];
  #endsAt: number | null = null;
  #busy: Promise<void> = Promise.resolve();

  constructor(
    readonly ring: Ring,
    readonly source: FrameSource,
    readonly format: StreamFormat,
    readonly range: StreamRange,
  ) {
    this.#meter = new LiveMeter(ring, format);
    this.#fold = foldDown(format.layout);
    this.#fade = Math.round(FADE_SECONDS * format.sampleRate);
    this.#guard = Math.round(GUARD_SECONDS * format.sampleRate);
    this.#firstSpan = Math.max(1024, Math.floor(FIRST_SAMPLES / ring.channels));
    this.#reader = this.#readerAt(range.start, 0);
    this.#segments = [{ device: ring.write, file: range.start }];
    ring.setMeter("position", range.start);
    ring.setMeter("deviceFrame", ring.read);
  }

  /** One thing at a time: a change waits for the fill that is under way, which is short. */
  #inTurn(work: () => Promise<void>): Promise<void> {
    this.#busy = this.#busy.then(work, work);
    return this.#busy;
  }

  /** Frame of the source that is heard at a device frame. */
  positionAt(device: number): Frames {
    let segment = this.#segments[0]!;
    for (const next of this.#segments) if (framesBetween(device, next.device) >= 0) segment = next;
    return segment.file + framesBetween(device, segment.device);
  }

  /** Changes what is heard; `onWritten` is called when the change lies ahead of the audio thread. */
  set(settings: Partial<PlayerSettings>, onWritten?: () => void): Promise<void> {
    return this.#inTurn(async () => {
      this.#settings = { ...this.#settings, ...settings };
      const memory = chainMemorySeconds(this.#heardChain()) * this.format.sampleRate;
      const affordable = CHANGE_RUN_UP_SAMPLES / this.ring.channels;
      await this.#rewrite(null, Math.round(Math.min(affordable, memory)));
      onWritten?.();
      await this.#fillUp();
    });
  }

  seek(frame: Frames): Promise<void> {
    return this.#inTurn(async () => {
      const run = Math.round(chainMemorySeconds(this.#heardChain()) * this.format.sampleRate);
      await this.#rewrite(Math.max(this.range.start, Math.min(frame, this.range.end - 1)), run);
      await this.#fillUp();
    });
  }

  resetMeters(): void {
    this.#meter.reset();
  }

  /** Meters what was heard and fills up what is to come. Returns whether the end has been heard. */
  async pump(): Promise<{ ended: boolean }> {
    let ended = false;
    await this.#inTurn(async () => {
      this.#meter.update();
      const { ring } = this;
      ring.setMeter("position", this.positionAt(ring.read));
      ring.setMeter("deviceFrame", ring.read);
      await this.#fillUp();
      this.#prune();
      ended = this.#endsAt !== null && framesBetween(ring.read, this.#endsAt) >= 0;
      // Held and let down slowly, so that an eye can read it.
      const fallen = ring.meter("reductionDb") - REDUCTION_FALL_DB;
      ring.setMeter("reductionDb", Math.max(0, fallen, ...Object.values(this.#reader.takeReductions())));
    });
    return { ended };
  }

  #heardChain(): ChainEntry[] {
    return this.#settings.heard === "now" ? this.#settings.chain : [];
  }

  #readerAt(frame: Frames, runUp: Frames): ChainReader {
    return new ChainReader(this.source, this.range, this.#heardChain(), this.format, frame, runUp);
  }

  /** Writes the ring anew from just ahead of the audio thread: at another place, or where it is. */
  async #rewrite(target: Frames | null, runUp: Frames): Promise<void> {
    const { ring } = this;
    const planned = ring.playing ? (ring.read + this.#guard) | 0 : ring.read;
    const reader = this.#readerAt(target ?? this.positionAt(planned), runUp);
    let block = await reader.read(this.#firstSpan); // the run-up happens here
    // The audio thread went on meanwhile: what it has passed is left out, until what is left lies ahead of it.
    let cut = planned;
    while (ring.playing) {
      const late = framesBetween((ring.read + this.#guard) | 0, cut);
      if (late <= 0) break;
      if (target !== null) {
        cut = (cut + late) | 0;
        break;
      }
      const dropped = Math.min(late, framesOf(block));
      if (dropped === 0) break; // the stretch ends before that
      cut = (cut + dropped) | 0;
      block = block.map((channel) => channel.subarray(dropped));
      if (framesOf(block) === 0) block = await reader.read(this.#firstSpan);
    }
    const file = reader.position - framesOf(block);
    this.#reader = reader;
    this.#endsAt = null;
    this.#segments = this.#segments.filter(({ device }) => framesBetween(cut, device) > 0);
    this.#segments.push({ device: cut, file });
    this.#write(cut, block, Math.min(this.#fade, Math.max(0, framesBetween(ring.write, cut))));
    ring.write = cut + framesOf(block);
    if (!ring.playing) {
      ring.setMeter("position", file);
      ring.setMeter("deviceFrame", cut);
    }
    if (framesOf(block) === 0) this.#finish();
  }

  async #fillUp(): Promise<void> {
    while (this.#endsAt === null && this.ring.ahead < AHEAD) await this.#fill();
  }

  async #fill(): Promise<void> {
    const { ring } = this;
    const { loop } = this.#settings;
    const left = loop && this.#reader.position < loop.end ? loop.end - this.#reader.position : Infinity;
    const block = await this.#reader.read(Math.min(SPAN, left));
    this.#write(ring.write, block, 0);
    ring.write = ring.write + framesOf(block);
    if (loop && this.#reader.position === loop.end) return this.#wrap(loop);
    if (framesOf(block) === 0) this.#finish();
  }

  /** Back to the loop's start: what would have come next fades out under it. */
  async #wrap(loop: StreamRange): Promise<void> {
    const { ring } = this;
    const tail = await this.#reader.read(this.#fade);
    this.#write(ring.write, tail, 0);
    const runUp = Math.round(chainMemorySeconds(this.#heardChain()) * this.format.sampleRate);
    this.#reader = this.#readerAt(loop.start, runUp);
    this.#segments.push({ device: ring.write, file: loop.start });
    const length = loop.end - loop.start;
    const block = await this.#reader.read(Math.min(SPAN, length));
    this.#write(ring.write, block, Math.min(framesOf(tail), framesOf(block)));
    ring.write = ring.write + framesOf(block);
  }

  /** The stretch is over: silence behind it, so that the fade has something to fade. */
  #finish(): void {
    const { ring } = this;
    this.#endsAt = ring.write;
    const silence = new Float32Array(1024);
    for (let plane = 0; plane < ring.planes.length; plane++) ring.put(plane, ring.write, silence);
    ring.write = ring.write + silence.length;
  }

  /** Puts a block at a device frame; its first `fade` frames are mixed with what stands there. */
  #write(device: number, block: Planar, fade: Frames): void {
    const frames = framesOf(block);
    if (frames === 0) return;
    const gain = this.#settings.heard === "now" ? dbToGain(this.#settings.matchDb) : 1;
    const heard = gain === 1 ? block : block.map((channel) => channel.map((v) => v * gain));
    const sides = [new Float32Array(frames), new Float32Array(frames)];
    heard.forEach((channel, c) => {
      this.#fold[c]!.forEach((weight, side) => {
        if (weight === 0) return;
        const out = sides[side]!;
        for (let i = 0; i < frames; i++) out[i]! += weight * channel[i]!;
      });
    });
    [...sides, ...heard].forEach((samples, plane) => {
      if (fade === 0) return this.ring.put(plane, device, samples);
      const old = new Float32Array(fade);
      this.ring.take(plane, device, old);
      const mixed = samples.slice();
      for (let i = 0; i < fade; i++) {
        const share = (i + 1) / (fade + 1);
        mixed[i] = samples[i]! * share + old[i]! * (1 - share);
      }
      this.ring.put(plane, device, mixed);
    });
  }

  #prune(): void {
    while (this.#segments.length > 1 && framesBetween(this.ring.read, this.#segments[1]!.device) > RING_FRAMES)
      this.#segments.shift();
  }
}
