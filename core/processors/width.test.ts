/** The curve that is drawn of Width is what it does to the sides. */
import { expect, it } from "vitest";
import { layoutNamed } from "../audio/layout";
import { sine } from "../testing/signals";
import { sideGain, stereoWidth } from "./width";

const RATE = 48000;
const rms = (x: Float32Array) => Math.sqrt(x.subarray(RATE).reduce((sum, v) => sum + v * v, 0) / (x.length - RATE));

it.each([40, 120, 200, 700, 4000, 9000])("draws the gain of the sides at %i Hz within 0.2 dB", (hertz) => {
  const settings = { lowPercent: 30, midPercent: 120, highPercent: 180, lowHz: 200, highHz: 4000, monoBelowHz: 60 };
  const [left, right] = [sine(hertz, -12, 2, RATE), sine(hertz, -12, 2, RATE).map((v) => -v)];
  const before = rms(left);
  stereoWidth
    .create(settings, { sampleRate: RATE, layout: layoutNamed("stereo")! }, 0)
    .process([left, right], 2 * RATE);
  expect(Math.abs(20 * Math.log10(rms(left) / before / sideGain(settings, hertz)))).toBeLessThan(0.2);
});
