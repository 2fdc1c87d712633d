import { describe, expect, it } from "vitest";
import { Fft } from "../../math/fft";
import { noise, sameBits } from "../../testing/signals";
import { referenceTwoChannelStft, wasmTwoChannelStft, type TwoChannelSpectrum } from ".";

const spectrumOf = (size: number): TwoChannelSpectrum => ({ re: new Float32Array(size), im: new Float32Array(size) });

describe("frames of two channels", () => {
  for (const size of [64, 128, 512, 2048]) {
    const window = Float32Array.from({ length: size }, (_, i) => Math.sin((Math.PI * (i + 0.5)) / size));
    const [fast, plain] = [wasmTwoChannelStft(window, 0.5 / size)!, referenceTwoChannelStft(window, 0.5 / size)];
    const [a, b] = [1, 2].map((seed) => noise(size / 48_000, 48_000, 0, seed)) as [Float32Array, Float32Array];

    it(`of ${size} samples: the spectrum is that of float64 to −120 dB`, () => {
      const made = spectrumOf(size);
      fast.forward(a, b, made);
      const re = Float64Array.from(window, (w, i) => w * a[i]!);
      const im = Float64Array.from(window, (w, i) => w * b[i]!);
      new Fft(size).forward(re, im);
      let [off, all] = [0, 0];
      re.forEach((v, k) => {
        off += (v - made.re[k]!) ** 2 + (im[k]! - made.im[k]!) ** 2;
        all += v * v + im[k]! ** 2;
      });
      expect(10 * Math.log10(off / all)).toBeLessThan(-120);
    });

    it(`of ${size} samples: the same bits by WebAssembly and without, there and back`, () => {
      const bins = size / 2 + 1;
      const gains = [3, 4].map((seed) => noise(bins / 48_000, 48_000, 0, seed)) as [Float32Array, Float32Array];
      const results = [fast, plain].map((frames) => {
        const spectrum = spectrumOf(size);
        frames.forward(a, b, spectrum);
        const powers = [new Float32Array(bins), new Float32Array(bins)] as const;
        frames.powers(spectrum, ...powers);
        frames.gain(spectrum, ...gains);
        const out = [new Float32Array(size / 2), new Float32Array(size / 2)] as const;
        frames.clear();
        frames.add(spectrum);
        frames.take(...out);
        frames.add(spectrum);
        frames.take(...out);
        return [...powers, spectrum.re, spectrum.im, ...out];
      });
      expect(sameBits(results[0]!, results[1]!)).toBe(true);
    });

    it(`of ${size} samples: a missing second channel is silence`, () => {
      const [alone, silent] = [spectrumOf(size), spectrumOf(size)];
      fast.forward(a, undefined, alone);
      fast.forward(a, new Float32Array(size), silent);
      expect(sameBits([alone.re, alone.im], [silent.re, silent.im])).toBe(true);
    });
  }
});
