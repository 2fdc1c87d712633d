import { describe, expect, it } from "vitest";
import type { Figures } from "../measure";
import type { Planar } from "../audio/units";
import { specNamed } from "../delivery/specs";
import { format, measured } from "../testing/measured";
import { joined, noise, sine } from "../testing/signals";
import { findingsOf } from ".";

const RATE = 16_000;
const figuresOf = (block: Planar): Figures => measured(block, format(RATE, block.length === 1 ? "mono" : "stereo"));
const kinds = (block: Planar, spec: string | null = null) =>
  findingsOf(figuresOf(block), spec === null ? null : specNamed(spec)).map(({ kind }) => kind);
const a = noise(3, RATE, -14, 1);
const b = noise(3, RATE, -14, 2);

describe("findings", () => {
  it("are none in a sound recording", () => expect(kinds([a, b])).toEqual([]));
  it.each<[string, Planar, string]>([
    ["a dead side", [a, new Float32Array(a.length)], "channel"],
    ["sides that lean", [a, b.map((v) => v * 0.75)], "balance"],
    ["sides that oppose each other", [a, b.map((v, i) => v * 0.7 - a[i]! * 0.6)], "mono"],
    ["clipping", [a.map((v) => Math.max(-1, Math.min(1, v * 9))), b], "clipping"],
    ["DC", [a.map((v) => v + 0.02), b], "dc"],
    [
      "digital silence at the head",
      [joined(new Float32Array(2 * RATE), a), joined(new Float32Array(2 * RATE), b)],
      "digital-silence",
    ],
    ["nothing but silence", [new Float32Array(RATE), new Float32Array(RATE)], "digital-silence"],
    ["a long tail of room tone", [joined(a, noise(7, RATE, -75, 3))], "long-ends"],
    ["what is no number", [a.map((v, i) => (i === 5000 ? NaN : v)), b], "non-finite"],
  ])("name %s", (_, block, kind) => expect(kinds(block)).toContain(kind));
  it("name a floor over the limit of the specification in force, and lead to it", () => {
    const block = [joined(a, noise(1, RATE, -45, 4), b)];
    expect(kinds(block)).not.toContain("floor");
    const [found] = findingsOf(figuresOf(block), specNamed("audiobook-retail")).filter(({ kind }) => kind === "floor");
    expect(found!.facts).toMatch(/dB over/);
    expect(found!.places[0]!.seconds).toBeGreaterThanOrEqual(3);
  });
  it("put faults first, say what to do, and lead somewhere within the recording", () => {
    const block = [
      a.map((v, i) => (i === 5000 ? NaN : v + 0.02)),
      joined(new Float32Array(RATE * 2), a).subarray(0, a.length),
    ];
    const figures = figuresOf(block);
    const found = findingsOf(figures, null);
    const severities = found.map(({ severity }) => severity);
    expect(severities).toEqual([...severities].sort((x, y) => Number(y === "fault") - Number(x === "fault")));
    for (const { title, facts, advice, places } of found) {
      expect(title.length * facts.length * advice.length).toBeGreaterThan(0);
      for (const { seconds } of places) expect(seconds).toBeLessThan(figures.durationSeconds);
    }
  });
  it("say of hum how many harmonics there are", () => {
    const x = noise(12, RATE, -55, 4).map(
      (v, n) =>
        v +
        0.005 *
          (Math.sin((2 * Math.PI * 50 * n) / RATE) +
            Math.sin((2 * Math.PI * 150 * n) / RATE) +
            Math.sin((2 * Math.PI * 250 * n) / RATE)),
    );
    const [hum] = findingsOf(figuresOf([x]), null).filter(({ kind }) => kind === "hum");
    expect(hum!.title).toBe("Mains hum at 50.0 Hz");
    expect(hum!.facts).toMatch(/^3 harmonics/);
  });
  it("of a tone are none", () => expect(kinds([sine(440, -20, 3, RATE)])).toEqual([]));
});
