import { describe, expect, it } from "vitest";
import { Fft } from "../math/fft";
import { noise, sameBits } from "../testing/signals";
import { complexTransform, plainComplexTransform } from "./complex-transform";
import { spectrumTwiddles } from "./spectrum-tables";

describe("the transform of complex points", () => {
  for (const points of [64, 128, 512, 2048])
    it(`of ${points} points is that of float64 to −120 dB, and the plain twin's to the bit`, () => {
      const window = Float32Array.from({ length: points }, (_, i) => Math.sin((Math.PI * (i + 0.5)) / points));
      const made = complexTransform(points, window);
      const twin = plainComplexTransform(
        points,
        Float32Array.from({ length: 2 * points }, (_, i) => window[i >> 1]!),
        spectrumTwiddles(2 * points),
      );
      const x = noise((2 * points) / 48_000, 48_000, 0, points);
      made.input.set(x);
      twin.input.set(x);
      made.run();
      twin.run();
      expect(sameBits([made.re, made.im], [twin.re, twin.im])).toBe(true);
      const re = Float64Array.from(window, (w, i) => w * x[2 * i]!);
      const im = Float64Array.from(window, (w, i) => w * x[2 * i + 1]!);
      new Fft(points).forward(re, im);
      let [off, all] = [0, 0];
      re.forEach((v, k) => {
        off += (v - made.re[k]!) ** 2 + (im[k]! - made.im[k]!) ** 2;
        all += v * v + im[k]! ** 2;
      });
      expect(10 * Math.log10(off / all)).toBeLessThan(-120);
    });
});
