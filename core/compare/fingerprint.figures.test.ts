import { describe, expect, it } from "vitest";
import { layoutNamed } from "../audio/layout";
import { Measurer } from "../measure";
import { Random } from "../math/random";
import { musicLike, steadyNoise } from "../testing/degraded";
import { joined } from "../testing/signals";
import { fingerprintOf, resemblance, type Fingerprint } from "./fingerprint";

const RATE = 16_000;
const mono = layoutNamed("mono")!;

function fingerprint(x: Float32Array): Fingerprint {
  const measurer = new Measurer({ sampleRate: RATE, layout: mono });
  measurer.process([x]);
  return fingerprintOf(measurer.result().curves);
}

/** Duller, 3 dB lower, with noise 20 dB below, and begun later. */
function otherMix(x: Float32Array, late: number): Float32Array {
  let before = 0;
  const duller = x.map((v) => (before += 0.5 * (v - before)));
  const noise = steadyNoise("hiss", x.length, RATE, 77);
  const [power, noisePower] = [duller, noise].map((y) => y.reduce((sum, v) => sum + v * v, 0));
  const gain = 0.1 * Math.sqrt(power! / noisePower!);
  return joined(
    new Float32Array(late),
    duller.map((v, i) => 0.7 * (v + gain * noise[i]!)),
  );
}

describe("recordings of one thing", () => {
  // Each at a tempo of its own, as titles of an album are.
  const titles = Array.from({ length: 12 }, (_, i) => musicLike(14, RATE * (0.8 + 0.037 * i), i + 1));
  const prints = titles.map(fingerprint);
  it("are told from others in twelve shuffled ones of another mix", () => {
    const random = new Random(5);
    const shuffled = titles.map((_, i) => i).sort(() => random.next() - 0.5);
    for (const which of shuffled) {
      const mix = fingerprint(otherMix(titles[which]!, 8000));
      const likeness = prints.map((print) => resemblance(print, mix).likeness);
      const best = likeness.indexOf(Math.max(...likeness));
      expect(best).toBe(which);
    }
  });
  it("are laid on each other to a step", () => {
    const { steps, likeness } = resemblance(prints[0]!, fingerprint(otherMix(titles[0]!, 3 * RATE)));
    expect(steps * prints[0]!.stepSeconds).toBeCloseTo(3, 0);
    expect(likeness).toBeGreaterThan(0.4);
    expect(resemblance(prints[0]!, prints[0]!)).toEqual({ likeness: expect.closeTo(1, 9), steps: 0 });
  });
});

it("nothing is like silence, and nothing like nothing", () => {
  const silent = fingerprint(new Float32Array(5 * RATE));
  expect(resemblance(silent, silent).likeness).toBe(0);
  expect(resemblance({ stepSeconds: 1, bands: [] }, silent).likeness).toBe(0);
});
