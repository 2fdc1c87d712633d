import { describe, expect, it } from "vitest";
import { musicLike, speechLike } from "../testing/degraded";
import { memoryFrames } from "../testing/signals";
import { searchEvents } from "./sought-events";

const RATE = 48_000;
const CLICKS = [1.2, 2.7, 4.1];

function clicked(x: Float32Array): Float32Array {
  const y = x.slice();
  for (const at of CLICKS) for (let i = 0; i < 6; i++) y[Math.round(at * RATE) + i]! += i % 2 ? -0.7 : 0.7;
  return y;
}
const search = (x: Float32Array, isSpeech = false) => searchEvents(memoryFrames([x], RATE), isSpeech);

describe("what is looked for after intake", () => {
  it("is nothing in music without a fault", async () => {
    expect(await search(musicLike(6, RATE, 3))).toEqual([]);
  });
  it("are clicks, each at its place", async () => {
    const [clicks, ...others] = await search(clicked(musicLike(6, RATE, 3).map((v) => 0.3 * v)));
    expect(others).toEqual([]);
    expect(clicks).toMatchObject({ kind: "clicks", count: 3 });
    clicks!.places.forEach(({ seconds, length }, i) => {
      expect(Math.abs(seconds - CLICKS[i]!)).toBeLessThan(0.01);
      expect(length).toBeGreaterThan(0);
    });
  });
  it("is mouth noise, breaths and plosives in speech alone", async () => {
    // A swell of 60 Hz, as air makes it, 20 dB over what the voice has below 150 Hz.
    const speech = speechLike(6, RATE, 2).map((v) => 0.1 * v);
    for (let i = 0; i < 0.08 * RATE; i++)
      speech[3 * RATE + i]! += 0.5 * Math.sin((2 * Math.PI * 60 * i) / RATE) * Math.sin((Math.PI * i) / (0.08 * RATE));
    const kinds = async (isSpeech: boolean) => (await search(speech, isSpeech)).map(({ kind }) => kind);
    expect(await kinds(false)).toEqual([]);
    expect(await kinds(true)).toContain("plosives");
  });
  it("stops when it is no longer wanted", async () => {
    const cancellation = { aborted: false };
    const sought = searchEvents(memoryFrames([musicLike(6, RATE, 3)], RATE), true, {
      cancellation,
      onProgress: () => void (cancellation.aborted = true),
    });
    await expect(sought).rejects.toThrow("Cancelled");
  });
});
