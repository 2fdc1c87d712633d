import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { layoutNamed } from "@core/audio/layout";
import { Measurer } from "@core/measure";
import { Recorder } from "./recorder";
import { simulatedInput } from "./simulated-input";

/** Uploads that were begun, with the bytes that they were given. */
interface Sent {
  options: Record<string, unknown> & {
    onSuccess(): void;
    onError(error: Error): void;
    onProgress(bytes: number): void;
  };
  reader: ReadableStreamDefaultReader<Uint8Array>;
  started: boolean;
}
const uploads: Sent[] = [];
vi.mock("tus-js-client", () => ({
  Upload: class {
    readonly sent: Sent;
    constructor(reader: Sent["reader"], options: Sent["options"]) {
      this.sent = { reader, options, started: false };
      uploads.push(this.sent);
    }
    start() {
      this.sent.started = true;
    }
  },
}));

/** Gains at which the input was let through to be heard. */
const heardAt: number[] = [];
let hear: (block: Float32Array[]) => void;
let asked: MediaStreamConstraints | undefined;
const stopped = vi.fn();
let denied: Error | null = null;

beforeEach(() => {
  uploads.length = 0;
  asked = undefined;
  denied = null;
  stopped.mockClear();
  heardAt.length = 0;
  const node = { connect: (to: unknown) => to, start: () => undefined };
  vi.stubGlobal(
    "AudioContext",
    class {
      sampleRate: number;
      audioWorklet = { addModule: () => Promise.resolve() };
      constructor({ sampleRate }: { sampleRate: number }) {
        this.sampleRate = sampleRate;
      }
      resume = () => Promise.resolve();
      close = () => Promise.resolve();
      createBuffer = () => ({ copyToChannel: () => undefined });
    },
  );
  vi.stubGlobal(
    "AudioWorkletNode",
    class {
      port = {
        set onmessage(listener: (event: { data: Float32Array[] }) => void) {
          hear = (data) => listener({ data });
        },
      };
    },
  );
  const made = function () {
    return node;
  };
  vi.stubGlobal(
    "GainNode",
    class {
      gain = { setTargetAtTime: (gain: number) => void heardAt.push(gain) };
      connect = (to: unknown) => to;
    },
  );
  vi.stubGlobal("AudioBufferSourceNode", made);
  vi.stubGlobal("MediaStreamAudioSourceNode", made);
  vi.stubGlobal("navigator", {
    mediaDevices: {
      getUserMedia: (constraints: MediaStreamConstraints) => {
        asked = constraints;
        return denied ? Promise.reject(denied) : Promise.resolve({ getTracks: () => [{ stop: stopped }] });
      },
    },
  });
});
afterEach(() => vi.unstubAllGlobals());

const block = (level: number, channels = 1) =>
  Array.from({ length: channels }, () => new Float32Array(1024).fill(level));
async function armed(channels: 1 | 2 = 1): Promise<Recorder> {
  const recorder = new Recorder();
  await recorder.arm("deskmic", 48_000, channels);
  hear(block(0.5, channels));
  return recorder;
}
/** All bytes that an upload can read now. */
async function bytesOf({ reader }: Sent): Promise<number> {
  let bytes = 0;
  for (;;) {
    const { done, value } = await reader.read();
    if (done) return bytes;
    bytes += value.length;
  }
}

describe("an input", () => {
  it("shows its level before anything is recorded, and falls slowly", async () => {
    const recorder = await armed();
    expect(recorder.state.status).toBe("armed");
    expect(recorder.levels[0]).toBeCloseTo(-6.02, 2);
    hear(block(0));
    expect(recorder.levels[0]).toBeLessThan(-6.02);
    expect(recorder.levels[0]).toBeGreaterThan(-8);
    expect(uploads).toEqual([]);
  });
  it("is metered as what is heard is, without being recorded, and begins anew when asked", async () => {
    const recorder = await armed(2);
    const { ring } = recorder.meter!;
    const tone = Float32Array.from({ length: 1024 }, (_, i) => 0.1 * Math.sin((2 * Math.PI * 48 * i) / 1024));
    for (let n = 0; n < 70; n++) hear([tone, tone]);
    const measurer = new Measurer({ sampleRate: 48_000, layout: layoutNamed("stereo")! });
    for (let n = 0; n < 70; n++) measurer.process([tone, tone]);
    expect(ring.meter("momentaryLufs")).toBeCloseTo(measurer.result().figures.momentaryMaxLufs!, 1);
    expect(ring.channel(0).nowDb).toBeCloseTo(-20, 1);
    expect(ring.meter("correlation")).toBeCloseTo(1, 6);
    recorder.meter!.reset();
    expect(ring.meter("momentaryLufs")).toBe(-Infinity);
    expect(uploads).toEqual([]);
    await recorder.close();
    expect(recorder.meter).toBeNull();
  });
  it("is heard only where that is wanted, before and after it is armed", async () => {
    const recorder = await armed();
    expect(heardAt).toEqual([0]);
    recorder.monitorAt(-6);
    recorder.monitorAt(null);
    expect(heardAt[1]).toBeCloseTo(0.501, 3);
    expect(heardAt[2]).toBe(0);
    recorder.monitorAt(0);
    await recorder.arm("deskmic", 48_000, 1);
    expect(heardAt.at(-1)).toBe(1);
  });
  it("is taken as it is, without the browser's own treatment", async () => {
    const recorder = new Recorder();
    await recorder.arm("deskmic", 48_000, 2);
    expect(asked!.audio).toMatchObject({
      echoCancellation: false,
      noiseSuppression: false,
      autoGainControl: false,
      channelCount: 2,
      deviceId: { exact: "deskmic" },
    });
    await recorder.close();
    expect(stopped).toHaveBeenCalledTimes(1);
    expect(recorder.state.status).toBe("closed");
  });
  it.each([
    [new DOMException("no", "NotAllowedError"), /allow it for this page/],
    [new Error("It is unplugged."), /This input cannot be used: It is unplugged\./],
  ])("that cannot be opened says why", async (error, words) => {
    denied = error;
    const recorder = new Recorder();
    await recorder.arm("deskmic", 48_000, 1);
    expect(recorder.state).toMatchObject({ status: "closed", problem: expect.stringMatching(words) as string });
  });
});

describe("a recording", () => {
  it("is sent as it comes: a WAV header, then each block", async () => {
    const recorder = await armed(2);
    recorder.start("p", "Take 1");
    expect(uploads[0]!.started).toBe(true);
    expect(uploads[0]!.options["metadata"]).toEqual({ filename: "Take 1.wav", project: "p" });
    for (let n = 0; n < 3; n++) hear(block(0.1, 2));
    expect(recorder.state.seconds).toBeCloseTo((3 * 1024) / 48_000, 6);
    recorder.stop();
    const bytes = await bytesOf(uploads[0]!);
    expect(bytes - 3 * 1024 * 2 * 4).toBeGreaterThanOrEqual(44);
    expect(bytes - 3 * 1024 * 2 * 4).toBeLessThan(200);
  });
  it("takes nothing in after it was stopped, and is ready for the next once all is sent", async () => {
    const recorder = await armed();
    recorder.start("p", "Take 1");
    hear(block(0.1));
    recorder.stop();
    expect(recorder.state.status).toBe("finishing");
    hear(block(0.1));
    expect(recorder.state.seconds).toBeCloseTo(1024 / 48_000, 6);
    uploads[0]!.options.onSuccess();
    expect(recorder.state).toMatchObject({ status: "armed", problem: null });
    recorder.start("p", "Take 2");
    expect(uploads).toHaveLength(2);
  });
  it("tells how much the server has", async () => {
    const recorder = await armed();
    recorder.start("p", "Take 1");
    uploads[0]!.options.onProgress(4096);
    expect(recorder.state.sentBytes).toBe(4096);
  });
  it("that is interrupted says so, and where what arrived is", async () => {
    const recorder = await armed();
    recorder.start("p", "Take 1");
    uploads[0]!.options.onError(new Error("the server is gone"));
    expect(recorder.state.status).toBe("armed");
    expect(recorder.state.problem).toMatch(/the server is gone\. What arrived is kept under Intake/);
  });
  it("ends when its input is closed: what is here is still sent", async () => {
    const recorder = await armed();
    recorder.start("p", "Take 1");
    hear(block(0.1));
    await recorder.close();
    expect(recorder.state.status).toBe("finishing");
    expect(await bytesOf(uploads[0]!)).toBeGreaterThan(1024 * 4);
    uploads[0]!.options.onSuccess();
    expect(recorder.state.status).toBe("closed");
  });
  it("does not begin without an input", () => {
    const recorder = new Recorder();
    recorder.start("p", "Take 1");
    expect(uploads).toEqual([]);
    expect(recorder.state.status).toBe("closed");
  });
  it("tells those who listen, until they no longer do", async () => {
    const recorder = await armed();
    const listener = vi.fn();
    const end = recorder.subscribe(listener);
    recorder.start("p", "Take 1");
    expect(listener).toHaveBeenCalled();
    end();
    listener.mockClear();
    recorder.stop();
    expect(listener).not.toHaveBeenCalled();
  });
});

describe("the simulated input", () => {
  it("speaks in phrases in a quiet room, the same each time", () => {
    const rate = 8000;
    const x = simulatedInput(rate);
    expect(x).toEqual(simulatedInput(rate));
    const rms = (from: number, to: number) =>
      20 *
      Math.log10(
        Math.sqrt(x.subarray(from * rate, to * rate).reduce((sum, v) => sum + v * v, 0) / ((to - from) * rate)),
      );
    expect(rms(0, 0.5)).toBeLessThan(-60);
    expect(rms(1, 2)).toBeGreaterThan(-45);
    expect(x.every((v) => Math.abs(v) < 1)).toBe(true);
  });
});
