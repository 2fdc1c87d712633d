/** Recording from an input: its level is seen before, and what comes in goes to the server in pieces as it comes. */
import { streamedWavHeader } from "@core/files/wav-writer";
import { encodedFloats } from "@core/kernels/quantiser";
import { layoutForChannels } from "@core/audio/layout";
import { dbToGain, gainToDb } from "@core/audio/decibel";
import { Upload } from "tus-js-client";
import { InputMeter } from "./input-meter";
import { simulatedInput } from "./simulated-input";

export const SIMULATED_INPUT = "simulated";
const WORKLET = "/worklets/capture.js";
/** Sent at a time: less than a second, so that little is lost with the page. */
const PIECE_BYTES = 128 * 1024;
const RETRY_DELAYS_MS = [200, 500, 1000, 2000, 4000, 8000, 16_000];
/** The level shown falls by this a block. */
const FALL = 0.93;

export interface RecorderState {
  status: "closed" | "opening" | "armed" | "recording" | "finishing";
  problem: string | null;
  seconds: number;
  sentBytes: number;
  /** Level at which the input is heard; `null` while it is not. */
  monitorDb: number | null;
}

/** The input comes and goes within this: without a click. */
const MONITOR_RAMP_SECONDS = 0.02;

interface Take {
  controller: ReadableStreamDefaultController<Uint8Array>;
  channels: number;
  frames: number;
  upload: Upload;
}

export class Recorder {
  #context: AudioContext | undefined;
  #stream: MediaStream | undefined;
  #take: Take | undefined;
  #listeners = new Set<() => void>();
  state: RecorderState = { status: "closed", problem: null, seconds: 0, sentBytes: 0, monitorDb: null };
  /** Of the input while it is armed, from its first block on. */
  meter: InputMeter | null = null;
  #monitor: GainNode | undefined;
  /** Peak of each channel, dBFS, falling slowly. */
  levels: number[] = [];
  #peaks: number[] = [];

  subscribe = (listener: () => void): (() => void) => {
    this.#listeners.add(listener);
    return () => this.#listeners.delete(listener);
  };
  snapshot = (): RecorderState => this.state;

  #become(change: Partial<RecorderState>): void {
    this.state = { ...this.state, ...change };
    for (const listener of this.#listeners) listener();
  }

  /** Opens an input, so that its level is seen. @param device its id, or `SIMULATED_INPUT` */
  async arm(device: string, sampleRate: number, channels: 1 | 2): Promise<void> {
    await this.close();
    this.#become({ status: "opening", problem: null, seconds: 0, sentBytes: 0 });
    try {
      const context = (this.#context = new AudioContext({ sampleRate }));
      await context.audioWorklet.addModule(WORKLET);
      const capture = new AudioWorkletNode(context, "resonum-capture", {
        numberOfOutputs: 0,
        channelCount: channels,
        channelCountMode: "explicit",
      });
      capture.port.onmessage = ({ data }: MessageEvent<Float32Array[]>) => this.#hear(data);
      const input = await this.#input(context, device, channels);
      input.connect(capture);
      this.#monitor = new GainNode(context, { gain: 0 });
      input.connect(this.#monitor).connect(context.destination);
      this.#setMonitorGain();
      await context.resume();
      this.#become({ status: "armed" });
    } catch (error) {
      await this.close();
      const denied = error instanceof DOMException && error.name === "NotAllowedError";
      this.#become({
        problem: denied
          ? "The browser may not use this input: allow it for this page, then arm it again."
          : `This input cannot be used: ${error instanceof Error ? error.message : String(error)}`,
      });
    }
  }

  async #input(context: AudioContext, device: string, channels: number): Promise<AudioNode> {
    if (device === SIMULATED_INPUT) {
      const voice = simulatedInput(context.sampleRate);
      const buffer = context.createBuffer(1, voice.length, context.sampleRate);
      buffer.copyToChannel(voice, 0);
      const node = new AudioBufferSourceNode(context, { buffer, loop: true });
      node.start();
      return node;
    }
    // As it is: a browser's own treatment of voices would be part of the recording.
    const plain = { echoCancellation: false, noiseSuppression: false, autoGainControl: false, channelCount: channels };
    this.#stream = await navigator.mediaDevices.getUserMedia({
      audio: { ...plain, ...(device === "" ? {} : { deviceId: { exact: device } }) },
    });
    return new MediaStreamAudioSourceNode(context, { mediaStream: this.#stream });
  }

  /** Lets the input be heard, or not. @param levelDb `null` for not */
  monitorAt(levelDb: number | null): void {
    this.#become({ monitorDb: levelDb });
    this.#setMonitorGain();
  }

  #setMonitorGain(): void {
    const context = this.#context;
    if (!context || !this.#monitor) return;
    const { monitorDb } = this.state;
    const gain = monitorDb === null ? 0 : dbToGain(monitorDb);
    this.#monitor.gain.setTargetAtTime(gain, context.currentTime, MONITOR_RAMP_SECONDS / 3);
  }

  #hear(block: Float32Array[]): void {
    if (this.meter?.ring.channels !== block.length) {
      this.meter = new InputMeter(this.#context!.sampleRate, block.length);
      this.#become({});
    }
    this.meter.hear(block);
    this.#peaks = block.map((x, c) => x.reduce((most, v) => Math.max(most, Math.abs(v)), (this.#peaks[c] ?? 0) * FALL));
    this.levels = this.#peaks.map(gainToDb);
    const take = this.#take;
    if (!take) return;
    const frames = block[0]!.length;
    take.controller.enqueue(encodedFloats(block.slice(0, take.channels), frames));
    take.frames += frames;
    this.#become({ seconds: take.frames / this.#context!.sampleRate });
  }

  /** Begins to record; the input must be armed. `name` is that of the recording. */
  start(project: string, name: string): void {
    const rate = this.#context?.sampleRate;
    if (this.state.status !== "armed" || !rate) return;
    const channels = this.#peaks.length || 1;
    let controller!: ReadableStreamDefaultController<Uint8Array>;
    const stream = new ReadableStream<Uint8Array>({ start: (given) => void (controller = given) });
    controller.enqueue(streamedWavHeader({ sampleRate: rate, layout: layoutForChannels(channels) }));
    const upload = new Upload(stream.getReader(), {
      endpoint: "/api/uploads",
      chunkSize: PIECE_BYTES,
      uploadLengthDeferred: true,
      retryDelays: RETRY_DELAYS_MS,
      storeFingerprintForResuming: false,
      metadata: { filename: `${name}.wav`, project },
      onProgress: (sentBytes) => this.#become({ sentBytes }),
      onSuccess: () => this.#ended(null),
      onError: (error) =>
        this.#ended(`The recording could not be sent on: ${error.message}. What arrived is kept under Intake.`),
    });
    this.#take = { controller, channels, frames: 0, upload };
    upload.start();
    this.#become({ status: "recording", problem: null, seconds: 0, sentBytes: 0 });
  }

  #ended(problem: string | null): void {
    this.#take = undefined;
    this.#become({ status: this.#context ? "armed" : "closed", problem });
  }

  /** Ends the recording; what is still here is sent. */
  stop(): void {
    const take = this.#take;
    if (!take || this.state.status !== "recording") return;
    this.#take = undefined;
    take.controller.close();
    this.#become({ status: "finishing" });
  }

  async close(): Promise<void> {
    this.stop();
    this.#stream?.getTracks().forEach((track) => track.stop());
    this.#stream = undefined;
    const context = this.#context;
    this.#context = undefined;
    await context?.close();
    this.levels = [];
    this.#peaks = [];
    this.meter = null;
    this.#monitor = undefined;
    if (this.state.status !== "finishing") this.#become({ status: "closed" });
  }
}
