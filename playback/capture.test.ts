import { beforeAll, describe, expect, it, vi } from "vitest";

interface Capturing {
  port: { postMessage: ReturnType<typeof vi.fn> };
  process(inputs: Float32Array[][]): boolean;
}
let Capture: new () => Capturing;

beforeAll(async () => {
  vi.stubGlobal(
    "AudioWorkletProcessor",
    class {
      port = { postMessage: vi.fn() };
    },
  );
  vi.stubGlobal("registerProcessor", (name: string, made: typeof Capture) => {
    expect(name).toBe("resonum-capture");
    Capture = made;
  });
  // It exports nothing: it registers itself.
  await import(new URL("./capture.worklet.ts", import.meta.url).href);
});

const quantum = (from: number, channels = 1) =>
  Array.from({ length: channels }, (_, c) => Float32Array.from({ length: 128 }, (_, i) => from + i + c / 10));
/** What was handed to the page, with the memory that goes with it. */
const handed = (capture: Capturing) => capture.port.postMessage.mock.calls as [Float32Array[], ArrayBuffer[]][];

describe("the audio thread of a recording", () => {
  it("hands on blocks of 1,024 frames, in order, nothing between them lost", () => {
    const capture = new Capture();
    for (let n = 0; n < 24; n++) expect(capture.process([quantum(128 * n)])).toBe(true);
    expect(handed(capture)).toHaveLength(3);
    const all = handed(capture).flatMap(([[x]]) => [...x!]);
    expect(all).toEqual(Array.from({ length: 3072 }, (_, i) => i));
  });
  it("keeps channels apart", () => {
    const capture = new Capture();
    for (let n = 0; n < 8; n++) capture.process([quantum(0, 2)]);
    const [[left, right]] = handed(capture)[0]!;
    expect(right![5]! - left![5]!).toBeCloseTo(0.1, 5);
  });
  it("gives its memory away with a block, and does not write to it again", () => {
    const capture = new Capture();
    for (let n = 0; n < 8; n++) capture.process([quantum(0)]);
    const [[block], [memory]] = handed(capture)[0]!;
    expect(memory).toBe(block!.buffer);
    capture.process([quantum(5000)]);
    expect(block![0]).toBe(0);
  });
  it("waits while there is no input, and begins anew where channels come or go", () => {
    const capture = new Capture();
    expect(capture.process([])).toBe(true);
    expect(capture.process([[]])).toBe(true);
    for (let n = 0; n < 4; n++) capture.process([quantum(0)]);
    for (let n = 0; n < 8; n++) capture.process([quantum(0, 2)]);
    expect(handed(capture)).toHaveLength(1);
    expect(handed(capture)[0]![0]).toHaveLength(2);
  });
});
