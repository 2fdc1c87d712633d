/**
 * Fills the ring with what is to be heard. Every change (a setting, a jump, another source, a loop's end) is the same
 * thing: from a little ahead of the audio thread on, the ring is written anew, cross-faded with what stood there.
 */
import { editListSource } from "@core/edit-list/edit-list-source";
import type { FrameSource } from "@core/audio/frame-source";
import { MonitorMatrix, MONITOR_ALL, type MonitorSettings } from "@core/monitoring/monitor-matrix";
import type { StreamFormat } from "@core/audio/stream-format";
import type { RepairStep } from "@core/repair";
import { repairedSource } from "@core/repair/repaired-source";
import type { Failure } from "@core/render/chain-stage";
import type { StreamRange } from "@core/audio/stage";
import type { Band } from "@core/dsp/butterworth";
import { framesOf, type Frames, type Planar } from "@core/audio/units";
import { LiveMeter } from "./live-meter";
import { LiveReductions } from "./live-reductions";
import {
  liveChain,
  playbackMemorySeconds,
  PlaybackReader,
  type OpenedSource,
  type PlaybackPlan,
  type PlaybackSource,
} from "./playback-reader";
import { framesBetween, RING_FRAMES, type Ring } from "./ring";

export interface PlayerSettings {
  plan: PlaybackPlan;
  /** Length of the item; `null` for that of the recording. Frames everywhere are the item's. */
  frames: Frames | null;
  loop: StreamRange | null;
  /** Only this band is heard. */
  band: Band | null;
  /** 1 as recorded; others keep the pitch; below 0 backwards. */
  speed: number;
  monitor: MonitorSettings;
}

export const OWN_SOURCE: PlaybackSource = { url: null, repairs: [], clips: null, chain: [], frozen: 0, gainDb: 0 };

export const DEFAULT_SETTINGS: PlayerSettings = {
  plan: { main: OWN_SOURCE, subtract: null },
  frames: null,
  loop: null,
  band: null,
  speed: 1,
  monitor: MONITOR_ALL,
};

/** Written ahead of what is heard. */
const AHEAD: Frames = RING_FRAMES / 2;
const FADE_SECONDS = 0.005;
/** A change is written no nearer than this to the audio thread. */
const GUARD_SECONDS = 0.012;
/** Run-up before a change is heard, frames × channels: shorter than the chain's memory, so that it comes at once. */
const CHANGE_RUN_UP_SAMPLES = 9600;
const SPAN: Frames = 2048;
/** Written in one turn while it plays: a change that comes meanwhile waits for no more. */
const SPANS_AT_ONCE = 2;
/** Written at once when the ring is written anew, frames × channels: enough to go on from while the rest follows. */
const FIRST_SAMPLES = 8192;

/** Recordings and states of repairs that are kept at hand. */
const MOST_OPENED = 8;

/** A scrub lets this much be heard. */
const SCRUB_SECONDS = 0.1;

interface Segment {
  device: number;
  file: Frames;
  speed: number;
}

export class Player {
  readonly #meter: LiveMeter;
  readonly #reductions: LiveReductions;
  readonly #fade: Frames;
  readonly #guard: Frames;
  readonly #firstSpan: Frames;
  readonly #opened = new Map<string, Promise<OpenedSource>>();
  #settings = DEFAULT_SETTINGS;
  #monitor: MonitorMatrix;
  #reader: PlaybackReader;
  #segments: Segment[];
  #endsAt: number | null = null;
  /** Listening stops by itself at this frame. */
  #stopAt: Frames | null = null;
  #busy: Promise<void> = Promise.resolve();

  constructor(
    readonly ring: Ring,
    /** The recording, or the programme, that is in hand. */
    public source: FrameSource,
    readonly format: StreamFormat,
    /** Opens another recording through its repairs, at the item's rate. */
    readonly openSource: (played: PlaybackSource) => Promise<OpenedSource> = () =>
      Promise.reject(new Error("no other recordings")),
    /** The item's recording through repairs. */
    readonly repaired: (steps: readonly RepairStep[]) => FrameSource = (steps) =>
      repairedSource(source, steps, { content: "" }),
    /** What is heard of a source, as it is arranged, after those of its processors that are frozen. */
    readonly frozen: (arranged: FrameSource, played: PlaybackSource) => FrameSource = (arranged) => arranged,
  ) {
    this.#meter = new LiveMeter(ring, format);
    this.#reductions = new LiveReductions(ring);
    this.#monitor = new MonitorMatrix(MONITOR_ALL, format.layout, format.sampleRate);
    this.#fade = Math.round(FADE_SECONDS * format.sampleRate);
    this.#guard = Math.round(GUARD_SECONDS * format.sampleRate);
    this.#firstSpan = Math.max(1024, Math.floor(FIRST_SAMPLES / ring.channels));
    const own = { main: { source, format }, subtract: null };
    this.#reader = new PlaybackReader(DEFAULT_SETTINGS, own, format, source.frames, 0, 0);
    this.#segments = [{ device: ring.write, file: 0, speed: 1 }];
    ring.setMeter("position", 0);
    ring.setMeter("deviceFrame", ring.read);
  }

  /** One thing at a time: a change waits for the fill that is under way, which is short. */
  #inTurn(work: () => Promise<void>): Promise<void> {
    this.#busy = this.#busy.then(work, work);
    return this.#busy;
  }

  get #frames(): Frames {
    return this.#settings.frames ?? this.source.frames;
  }

  /** Frame that is heard at a device frame. */
  positionAt(device: number): Frames {
    const segment = this.#segmentAt(device);
    return Math.round(segment.file + framesBetween(device, segment.device) * segment.speed);
  }

  #segmentAt(device: number): Segment {
    let segment = this.#segments[0]!;
    for (const next of this.#segments) if (framesBetween(device, next.device) >= 0) segment = next;
    return segment;
  }

  /** Changes what is heard; `onWritten` is called when the change lies ahead of the audio thread. */
  set(settings: Partial<PlayerSettings>, onWritten?: () => void): Promise<void> {
    return this.#inTurn(async () => {
      this.#settings = { ...this.#settings, ...settings };
      if (settings.plan) this.#reductions.become(liveChain(settings.plan.main));
      if (settings.monitor)
        this.#monitor = new MonitorMatrix(settings.monitor, this.format.layout, this.format.sampleRate);
      const affordable = CHANGE_RUN_UP_SAMPLES / this.ring.channels;
      await this.#rewrite(null, Math.round(Math.min(affordable, this.#memory)));
      onWritten?.();
      await this.#fillUp(SPANS_AT_ONCE);
    });
  }

  /** Another programme is heard from where it is; `onWritten` is called when it lies ahead of the audio thread. */
  become(source: FrameSource, onWritten?: () => void): Promise<void> {
    return this.#inTurn(async () => {
      this.source = source;
      this.#opened.clear();
    }).then(() => this.set({}, onWritten));
  }

  /** Goes to a frame; listening stops at `stopAt`, if one is given. */
  seek(frame: Frames, stopAt: Frames | null = null): Promise<void> {
    return this.#inTurn(async () => {
      this.#stopAt = stopAt;
      await this.#rewrite(this.#within(frame), this.#memory);
      await this.#fillUp();
    });
  }

  /** A short piece around a frame is heard at once: what lies under a pointer that is dragged. */
  scrub(frame: Frames): Promise<void> {
    const from = this.#within(frame);
    return this.seek(from, from + Math.round(SCRUB_SECONDS * this.format.sampleRate));
  }

  #within(frame: Frames): Frames {
    return Math.max(0, Math.min(frame, this.#frames - 1));
  }

  /** Where listening goes on once the end has been heard: where it was to stop, or at the beginning. */
  get stoppedAt(): Frames {
    return this.#stopAt ?? 0;
  }

  /** Writes anew what is ahead: more of what is heard has been made. */
  refresh(): Promise<void> {
    return this.set({});
  }

  resetMeters(): void {
    this.#meter.reset();
  }

  /** Processors that had to be muted. */
  get failures(): Failure[] {
    return this.#reader.failures;
  }

  /** Meters what was heard and fills up what is to come. Returns whether the end has been heard. */
  async pump(): Promise<{ ended: boolean }> {
    let ended = false;
    await this.#inTurn(async () => {
      this.#meter.update();
      const { ring } = this;
      ring.setMeter("position", this.positionAt(ring.read));
      ring.setMeter("deviceFrame", ring.read);
      ring.setMeter("speed", this.#segmentAt(ring.read).speed);
      await this.#fillUp(SPANS_AT_ONCE);
      this.#prune();
      ended = this.#endsAt !== null && framesBetween(ring.read, this.#endsAt) >= 0;
      this.#reductions.update();
    });
    return { ended };
  }

  /** How much of the past matters to what is heard. */
  get #memory(): Frames {
    return Math.round(playbackMemorySeconds(this.#settings.plan) * this.format.sampleRate);
  }

  #openedSource(played: PlaybackSource): Promise<OpenedSource> {
    if (played.url === null && played.repairs.length === 0 && played.clips === null && played.frozen === 0)
      return Promise.resolve({ source: this.source, format: this.format });
    const key = JSON.stringify([played.url, played.repairs, played.clips, played.chain.slice(0, played.frozen)]);
    let opened = this.#opened.get(key);
    if (!opened) {
      opened =
        played.url === null
          ? Promise.resolve({
              source: this.frozen(editListSource(this.repaired(played.repairs), played.clips), played),
              format: this.format,
            })
          : this.openSource(played);
      this.#opened.set(key, opened);
      opened.catch(() => this.#opened.delete(key)); // asked for again
      for (const oldest of this.#opened.keys()) {
        if (this.#opened.size <= MOST_OPENED) break;
        this.#opened.delete(oldest);
      }
    }
    return opened;
  }

  async #readerAt(frame: Frames, runUp: Frames): Promise<PlaybackReader> {
    const { main, subtract } = this.#settings.plan;
    const opened = {
      main: await this.#openedSource(main),
      subtract: subtract && (await this.#openedSource(subtract)),
    };
    return new PlaybackReader(this.#settings, opened, this.format, this.#frames, frame, runUp);
  }

  /** Writes the ring anew from just ahead of the audio thread: at another place, or where it is. */
  async #rewrite(target: Frames | null, runUp: Frames): Promise<void> {
    const { ring } = this;
    const planned = ring.playing ? (ring.read + this.#guard) | 0 : ring.read;
    const reader = await this.#readerAt(this.#within(target ?? this.positionAt(planned)), runUp);
    const { speed } = this.#settings;
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
    const file = Math.round(reader.position - framesOf(block) * speed);
    this.#reader = reader;
    this.#endsAt = null;
    this.#segments = this.#segments.filter(({ device }) => framesBetween(cut, device) > 0);
    this.#segments.push({ device: cut, file, speed });
    // While nothing is heard there is nothing to fade from.
    const fade = ring.playing ? Math.min(this.#fade, Math.max(0, framesBetween(ring.write, cut))) : 0;
    this.#write(cut, block, fade);
    ring.write = cut + framesOf(block);
    if (!ring.playing) {
      ring.setMeter("position", file);
      ring.setMeter("deviceFrame", cut);
      ring.setMeter("speed", speed);
    }
    if (framesOf(block) === 0) this.#finish();
  }

  async #fillUp(spans = Infinity): Promise<void> {
    for (let span = 0; span < spans && this.#endsAt === null && this.ring.ahead < AHEAD; span++) await this.#fill();
  }

  async #fill(): Promise<void> {
    const { ring } = this;
    const { loop, speed } = this.#settings;
    const { position } = this.#reader;
    const forwards = speed > 0;
    const looped = loop && forwards && position < loop.end ? loop.end - position : Infinity;
    const toStop = this.#stopAt !== null && forwards ? Math.max(0, this.#stopAt - position) : Infinity;
    const left = Math.min(looped, toStop);
    const block = await this.#reader.read(Math.min(SPAN, Math.ceil(left / Math.abs(speed))));
    this.#write(ring.write, block, 0);
    ring.write = ring.write + framesOf(block);
    if (loop && forwards && position < loop.end && this.#reader.position >= loop.end) return this.#wrap(loop);
    if (framesOf(block) === 0) await this.#fadeOut();
  }

  /** Back to the loop's start: what would have come next fades out under it. */
  async #wrap(loop: StreamRange): Promise<void> {
    const { ring } = this;
    const tail = await this.#reader.read(this.#fade);
    this.#write(ring.write, tail, 0);
    const { speed } = this.#settings;
    this.#reader = await this.#readerAt(loop.start, this.#memory);
    this.#segments.push({ device: ring.write, file: loop.start, speed });
    const length = loop.end - loop.start;
    const block = await this.#reader.read(Math.min(SPAN, length));
    this.#write(ring.write, block, Math.min(framesOf(tail), framesOf(block)));
    ring.write = ring.write + framesOf(block);
  }

  /** What would have come next fades out under the silence that follows. */
  async #fadeOut(): Promise<void> {
    const { ring } = this;
    if (this.#stopAt === null) return this.#finish();
    const tail = await this.#reader.read(this.#fade);
    tail.forEach((x) => x.forEach((v, i) => (x[i] = v * (1 - (i + 1) / (x.length + 1)))));
    this.#write(ring.write, tail, 0);
    ring.write = ring.write + framesOf(tail);
    this.#finish();
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
    this.#reductions.written(device, this.#reader.takeGainReduction());
    const sides = this.#monitor.process(block);
    [...sides, ...block].forEach((samples, plane) => {
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
