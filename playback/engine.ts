/** The listening engine as the page sees it: one worker, one worklet, one ring of shared memory. */
import { PersistentWorker, type WorkerLike } from "./persistent-worker";
import type { Failure } from "@core/render/chain-stage";
import type { Layout } from "@core/audio/layout";
import type { FromWorker, ToWorker } from "./messages";
import { reductionPlaces, type ReductionPlace } from "./live-reductions";
import { liveChain } from "./playback-reader";
import type { PlayerSettings } from "./player";
import type { ProgrammePlan } from "./programme-playback";
import { framesBetween, Ring } from "./ring";
import { workerFailure } from "./worker-failure";

export interface Track {
  /** Where its sound is: float32 WAV; or the programme that is put together. */
  sound: string | ProgrammePlan;
  sampleRate: number;
  layout: Layout;
}

export interface EngineState {
  status: "empty" | "opening" | "ready" | "failed";
  playing: boolean;
  problem: string | null;
  /** Where the sound goes; "" is the device that the system chose. */
  device: string;
  /** From a change of a setting to its being written for the audio thread, the latest. */
  changeMilliseconds: number | null;
  /** Processors that had to be muted. */
  muted: Failure[];
}

export const NOTHING_OPEN: EngineState = {
  status: "empty",
  playing: false,
  problem: null,
  device: "",
  changeMilliseconds: null,
  muted: [],
};

const WORKLET = "/worklets/playback.js";

export class ListeningEngine {
  #worker: WorkerLike | undefined;
  #context: AudioContext | undefined;
  #node: AudioWorkletNode | undefined;
  #track: Track | undefined;
  #listeners = new Set<() => void>();
  #watchers = new Set<() => void>();
  #reductionPlaces: ReadonlyMap<string, ReductionPlace> = new Map();
  ring: Ring | undefined;
  state: EngineState = NOTHING_OPEN;

  subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };
  /** Calls back whenever something is told to the engine or by it, so that what shows it can rest in between. */
  onActivity = (listener: () => void): (() => void) => {
    this.#watchers.add(listener);
    return () => this.#watchers.delete(listener);
  };
  snapshot = (): EngineState => this.state;

  #become(change: Partial<EngineState>): void {
    this.state = { ...this.state, ...change };
    for (const listener of [...this.#listeners, ...this.#watchers]) listener();
  }

  /** What was said of trouble is taken away: it was read. */
  dismissProblem(): void {
    this.#become({ problem: null });
  }

  #post(message: ToWorker): void {
    this.#worker?.postMessage(message);
    for (const watcher of this.#watchers) watcher();
  }

  /** Opens a track at `position` (frame of the item). What was heard before stops. */
  open(track: Track, settings: PlayerSettings, position: number): void {
    this.close();
    this.#track = track;
    this.ring = Ring.create(track.layout.speakers.length);
    this.#worker = new PersistentWorker(
      () => new Worker(new URL("./listening.worker.ts", import.meta.url), { type: "module" }),
    );
    this.#worker.onmessage = ({ data }: MessageEvent<FromWorker>) => this.#hear(data);
    this.#worker.onerror = (event) => this.#become({ status: "failed", problem: workerFailure(event) });
    this.#become({ status: "opening", playing: false, problem: null, muted: [] });
    const { sound, layout } = track;
    this.#post({ type: "open", sound, layout, settings, memory: this.ring.memory, position });
  }

  #hear(message: FromWorker): void {
    if (message.type === "opened") this.#become({ status: "ready", problem: null });
    else if (message.type === "playing") this.#become({ playing: message.playing, problem: null });
    else if (message.type === "changed") this.#become({ changeMilliseconds: message.milliseconds });
    else if (message.type === "muted") this.#become({ muted: message.failures });
    else if (message.fatal) this.#become({ status: "failed", playing: false, problem: message.message });
    else this.#become({ problem: message.message });
  }

  async #device(): Promise<void> {
    const { ring } = this;
    const rate = this.#track?.sampleRate;
    if (!ring || !rate) return;
    if (!this.#context || this.#context.sampleRate !== rate || this.#context.state === "closed") {
      await this.#context?.close();
      this.#context = new AudioContext({ sampleRate: rate, latencyHint: "interactive" });
      await this.#context.audioWorklet.addModule(WORKLET);
      await this.#sendTo(this.state.device);
      this.#node = undefined;
    }
    if (this.#context.state === "suspended") await this.#context.resume();
    this.#node ??= new AudioWorkletNode(this.#context, "resonum-playback", {
      numberOfInputs: 0,
      outputChannelCount: [2],
      processorOptions: { memory: ring.memory, channels: ring.channels },
    });
    this.#node.connect(this.#context.destination);
  }

  async #sendTo(device: string): Promise<void> {
    const context = this.#context as (AudioContext & { setSinkId?: (id: string) => Promise<void> }) | undefined;
    if (context?.setSinkId) await context.setSinkId(device);
  }

  /** Chooses where the sound goes; kept for what is opened later. */
  async chooseDevice(device: string): Promise<void> {
    try {
      await this.#sendTo(device);
      this.#become({ device, problem: null });
    } catch (error) {
      this.#become({ problem: `This output cannot be used: ${messageOf(error)} The last one stays.` });
    }
  }

  async #withDevice(message: ToWorker): Promise<void> {
    try {
      await this.#device();
      this.#post(message);
    } catch (error) {
      this.#become({ problem: `No sound can be played on this machine: ${messageOf(error)}` });
    }
  }

  play(): Promise<void> {
    return this.#withDevice({ type: "play" });
  }

  /** Plays from `start` to `end` and stops there. */
  async playStretch(start: number, end: number): Promise<void> {
    this.seek(start, end);
    await this.play();
  }

  /** Lets a short piece be heard. */
  scrub(frame: number): Promise<void> {
    return this.#withDevice({ type: "scrub", frame });
  }

  pause(): void {
    this.#post({ type: "pause" });
  }

  seek(frame: number, stopAt: number | null = null): void {
    this.#post({ type: "seek", frame, stopAt });
  }

  set(settings: Partial<PlayerSettings>): void {
    if (settings.plan) this.#reductionPlaces = reductionPlaces(liveChain(settings.plan.main));
    this.#post({ type: "set", settings, sent: performance.timeOrigin + performance.now() });
  }

  /** The programme that is heard has changed. */
  setProgramme(programme: ProgrammePlan): void {
    this.#post({ type: "programme", programme, sent: performance.timeOrigin + performance.now() });
  }

  /** More of the repairs has been made. */
  repaired(): void {
    this.#post({ type: "repaired" });
  }

  resetMeters(): void {
    this.#post({ type: "reset-meters" });
  }

  /** What a processor of the chain that is heard takes off now: dB ≥ 0, of each band or of the whole; none at rest. */
  reductionsOf(entry: string): number[] {
    const { ring } = this;
    const place = this.#reductionPlaces.get(entry);
    if (!ring?.playing || !place) return [];
    return Array.from({ length: place.count }, (_, row) => ring.reduction(place.first + row));
  }

  /** Frame of the item that is heard now, by the audio thread's own count. */
  get position(): number {
    const { ring } = this;
    if (!ring) return 0;
    const since = framesBetween(ring.read, ring.meter("deviceFrame"));
    return Math.round(ring.meter("position") + Math.max(0, Math.min(since, 4096)) * ring.meter("speed"));
  }

  /** What the engine does, for its read-out. */
  get diagnostics() {
    return {
      sampleRate: this.#context?.sampleRate ?? null,
      latencyMilliseconds: this.#context
        ? (this.#context.baseLatency + (this.#context.outputLatency || 0)) * 1000
        : null,
      underruns: this.ring?.underruns ?? 0,
      quanta: this.ring?.quanta ?? 0,
      aheadFrames: this.ring?.ahead ?? 0,
      changeMilliseconds: this.state.changeMilliseconds,
    };
  }

  close(): void {
    this.#post({ type: "close" });
    this.#worker?.terminate();
    this.#worker = undefined;
    this.#node?.disconnect();
    this.#node = undefined;
    this.ring = undefined;
    this.#become({ status: "empty", playing: false });
  }
}

const messageOf = (error: unknown): string => (error instanceof Error ? error.message : String(error));
