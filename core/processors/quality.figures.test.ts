/** What the processors promise, against closed forms and with the numbers of their sources. */
import { describe, expect, it } from "vitest";
import { Fft } from "../math/fft";
import { ChainStage } from "../render/chain-stage";
import { bell, cut, notch, powerAt, shelf, tilt, type AnalogueBiquad } from "../dsp/analogue-filter";
import { dbToGain } from "../audio/decibel";
import { layoutNamed } from "../audio/layout";
import type { Planar } from "../audio/units";
import { joined, noise, sine } from "../testing/signals";
import type { ChainEntry } from ".";
import { matchedFilter, powerOfBiquad } from "../dsp/matched-filter";
import { crossover } from "../dsp/crossover";

const RATE = 48000;

function through(chain: Record<string, unknown>[], block: Planar, sampleRate = RATE): Planar {
  const layout = layoutNamed(block.length === 1 ? "mono" : "stereo")!;
  const stage = new ChainStage(
    chain.map((entry) => ({ bypass: false, ...entry }) as ChainEntry),
    { sampleRate, layout },
  );
  const parts = [stage.push(block), stage.finish()];
  return block.map((_, c) => joined(...parts.flatMap((part) => part[c] ?? [])));
}

const rmsDb = (x: Float32Array, from = 0, to = x.length): number =>
  10 * Math.log10(x.subarray(from, to).reduce((sum, v) => sum + v * v, 0) / (to - from));

/** Powers of a stretch, by a Blackman–Harris window; dB under a full-scale sine. */
function spectrumDb(x: Float32Array, from: number, size: number): Float64Array {
  const re = new Float64Array(size);
  const im = new Float64Array(size);
  for (let i = 0; i < size; i++) {
    const w = (2 * Math.PI * i) / size;
    const window = 0.35875 - 0.48829 * Math.cos(w) + 0.14128 * Math.cos(2 * w) - 0.01168 * Math.cos(3 * w);
    re[i] = x[from + i]! * window;
  }
  new Fft(size).forward(re, im);
  return re.slice(0, size / 2).map((v, k) => 20 * Math.log10((Math.hypot(v, im[k]!) * 2) / (size * 0.35875) + 1e-15));
}

/** |H| of an impulse response, dB. */
function responseDb(impulse: Float32Array, hertz: number, sampleRate: number): number {
  let [re, im] = [0, 0];
  impulse.forEach((v, n) => {
    const w = (2 * Math.PI * hertz * n) / sampleRate;
    re += v * Math.cos(w);
    im -= v * Math.sin(w);
  });
  return 20 * Math.log10(Math.hypot(re, im));
}

const impulseAt = (at: number, length: number): Float32Array => {
  const x = new Float32Array(length);
  x[at] = 1;
  return x;
};

describe("equaliser", () => {
  const prototypes: [string, AnalogueBiquad[]][] = [
    ...[30, 1000, 8000, 16000, 20000].flatMap((hertz) =>
      [0.3, 1, 8].map((q): [string, AnalogueBiquad[]] => [`bell ${hertz} Hz, Q ${q}`, [bell(hertz, 12, q)]]),
    ),
    ["cutting bell at 18 kHz", [bell(18000, -18, 2)]],
    ["high shelf at 12 kHz", [shelf("high", 12000, 6, 0.71)]],
    ["low shelf at 80 Hz", [shelf("low", 80, -9, 0.71)]],
    ["tilt", [tilt(1000, 6)]],
    ["notch at 15 kHz", [notch(15000, 4)]],
    ["high-pass 96 dB/octave", cut("high", 40, 16)],
    ["low-pass 24 dB/octave at 16 kHz", cut("low", 16000, 4)],
  ];
  it.each(prototypes)("%s follows its analogue prototype within 0.05 dB to 20 kHz", (_, sections) => {
    for (const rate of [44100, 48000, 192000]) {
      const filter = matchedFilter(sections, rate)!;
      let worst = 0;
      for (let hertz = 20; hertz <= 20000; hertz *= 1.03) {
        const w = (2 * Math.PI * hertz) / rate;
        let power = filter.sections.reduce((product, one) => product * powerOfBiquad(one, Math.sin(w / 2) ** 2), 1);
        let [re, im] = [0, 0];
        filter.fir.forEach((tap, k) => {
          re += tap * Math.cos(w * k);
          im += tap * Math.sin(w * k);
        });
        power *= re * re + im * im;
        const wanted = sections.reduce((product, one) => product * powerAt(one, hertz), 1);
        if (wanted > 1e-10) worst = Math.max(worst, Math.abs(10 * Math.log10(power / wanted)));
      }
      expect(worst).toBeLessThan(0.05);
    }
  });

  const bands = [
    { shape: "bell", hertz: 200, gainDb: 6, q: 1, slope: "12", on: true, sides: "all" },
    { shape: "high shelf", hertz: 12000, gainDb: -5, q: 0.7, slope: "12", on: true, sides: "all" },
  ];
  it.each(["minimum", "linear"])("sounds as it is drawn (%s phase)", (phase) => {
    const [out] = through([{ type: "equaliser", bands, phase }], [impulseAt(12000, 36000)], 44100);
    const sections = [bell(200, 6, 1), shelf("high", 12000, -5, 0.7)];
    for (const hertz of [50, 120, 200, 400, 2000, 9000, 15000, 19900]) {
      const wanted = 10 * Math.log10(sections.reduce((product, one) => product * powerAt(one, hertz), 1));
      expect(Math.abs(responseDb(out!, hertz, 44100) - wanted)).toBeLessThan(0.05);
    }
  });

  it("of linear phase is symmetric, and below −120 dB outside its window", () => {
    const [out] = through([{ type: "equaliser", bands, phase: "linear" }], [impulseAt(24000, 48000)]);
    for (let d = 1; d < 4000; d++) expect(out![24000 - d]).toBeCloseTo(out![24000 + d]!, 6);
    const half = Math.round(0.085 * RATE);
    for (let n = 0; n < 24000 - half; n++) expect(Math.abs(out![n]!)).toBeLessThan(1e-6);
  });

  it("works on the middle alone without touching the sides", () => {
    const x = noise(0.2, RATE, -6, 1);
    const out = through(
      [{ type: "equaliser", bands: bands.map((one) => ({ ...one, sides: "mid" })) }],
      [x, x.map((v) => -v)],
    );
    out[0]!.forEach((v, i) => expect(Math.abs(v - x[i]!)).toBeLessThan(1e-6));
  });
});

describe("compressor", () => {
  const levelAfter = (settings: Record<string, unknown>, inputDb: number, hertz = 1000) => {
    const x = sine(hertz, inputDb, 3, RATE);
    const [out] = through([{ type: "compressor", ...settings }], [x]);
    return rmsDb(out!, 2 * RATE, 3 * RATE) + 3.0103;
  };
  it.each(["peak", "rms"])("follows its static curve within 0.1 dB (%s)", (detection) => {
    const settings = { thresholdDb: -20, ratio: 4, kneeDb: 6, attackMs: 5, releaseMs: 200, detection };
    for (const input of [-40, -24, -21, -20, -19, -16, -10, -3]) {
      const over = input + 20;
      const wanted = 2 * over <= -6 ? input : 2 * over < 6 ? input - (0.75 * (over + 3) ** 2) / 12 : -20 + over / 4;
      expect(Math.abs(levelAfter(settings, input) - wanted)).toBeLessThan(0.1);
    }
  });
  it.each([
    ["attack", { attackMs: 20, releaseMs: 300 }, -40, -8],
    ["release", { attackMs: 1, releaseMs: 100 }, -8, -40],
  ] as const)("has an %s within 5 %% of its definition", (which, times, before, after) => {
    // A tone high enough that the level follows at once; the release begins when the peak is no longer held.
    const x = joined(sine(4000, before, 2, RATE), sine(4000, after, 2, RATE));
    const settings = { thresholdDb: -30, ratio: 10, kneeDb: 0, detection: "peak", ...times };
    const [out] = through([{ type: "compressor", ...settings }], [x]);
    const gainDb = (frame: number) => rmsDb(out!, frame, frame + 12) - rmsDb(x, frame, frame + 12);
    const step = 2 * RATE + (which === "release" ? Math.round(0.005 * RATE) : 0);
    const [from, to] = [gainDb(2 * RATE - 24), gainDb(4 * RATE - 24)];
    let frame = step;
    while (Math.abs(gainDb(frame) - from) < 0.632 * Math.abs(to - from)) frame += 12;
    const wanted = which === "attack" ? 0.02 : 0.1;
    expect((frame + 6 - step) / RATE / wanted).toBeGreaterThan(0.95);
    expect((frame + 6 - step) / RATE / wanted).toBeLessThan(1.05);
  });
  it("keeps the image where it is when linked", () => {
    const [loud, quiet] = [sine(300, -3, 1, RATE), sine(700, -30, 1, RATE)];
    const out = through([{ type: "compressor", thresholdDb: -30, ratio: 4 }], [loud, quiet]);
    const cutOf = (c: number, x: Float32Array) => rmsDb(out[c]!, 24000) - rmsDb(x, 24000);
    expect(cutOf(0, loud)).toBeCloseTo(cutOf(1, quiet), 1);
    expect(cutOf(0, loud)).toBeLessThan(-10);
  });
});

describe("crossovers", () => {
  const corners = [120, 900, 5000];
  const sumOf = (kind: "no delay" | "linear phase") => {
    const splitter = crossover(kind, corners, 1, RATE);
    const frames = 32768;
    const bands = splitter.split([impulseAt(8000, frames)], frames);
    return bands[0]![0]!.map((_, i) => bands.reduce((sum, band) => sum + band[0]![i]!, 0));
  };
  it.each(["no delay", "linear phase"] as const)("sum flat within 0.01 dB (%s)", (kind) => {
    const sum = sumOf(kind);
    for (let hertz = 20; hertz < 20000; hertz *= 1.2) expect(Math.abs(responseDb(sum, hertz, RATE))).toBeLessThan(0.01);
  });
  it("without delay fall by 24 dB an octave", () => {
    const [low] = crossover("no delay", [1000], 1, RATE).split([impulseAt(0, 16384)], 16384);
    expect(responseDb(low![0]!, 1000, RATE)).toBeCloseTo(-6.02, 1);
    expect(responseDb(low![0]!, 4000, RATE)).toBeLessThan(-46);
  });
});

describe("saturation", () => {
  it.each([
    ["4", 997, 6],
    ["4", 5011, 6],
    ["8", 9973, 12],
    ["16", 14983, 12],
  ])(
    "at %s × rate makes nothing of %d Hz at −1 dBFS, driven by %d dB, that is no harmonic, above −100 dB",
    (oversampling, hertz, driveDb) => {
      const x = sine(hertz, -1, 2, RATE);
      const [out] = through([{ type: "saturation", driveDb, evenPercent: 40, oversampling }], [x]);
      const size = 65536;
      const spectrum = spectrumDb(out!, 20000, size);
      let worst = -Infinity;
      spectrum.forEach((db, k) => {
        const at = (k * RATE) / size;
        const harmonic = Math.round(at / hertz);
        if (at > 30 && at < 20000 && Math.abs(at - harmonic * hertz) > 12) worst = Math.max(worst, db);
      });
      expect(worst).toBeLessThan(-100);
    },
  );
  it("makes odd harmonics alone without the share of even ones", () => {
    const [out] = through([{ type: "saturation", driveDb: 9, evenPercent: 0 }], [sine(1000, -6, 1, RATE)]);
    const spectrum = spectrumDb(out!, 8000, 32768);
    const level = (hertz: number) =>
      Math.max(...[-1, 0, 1].map((k) => spectrum[Math.round((hertz * 32768) / RATE) + k]!));
    expect(level(3000)).toBeGreaterThan(-60);
    expect(level(2000)).toBeLessThan(-120);
  });
});

describe("limiter on steady tones", () => {
  const residueDb = (x: Float32Array, keep: number[], size = 131072) => {
    const spectrum = spectrumDb(x, 150_000, size);
    const width = (6 * RATE) / size;
    let [kept, rest] = [0, 0];
    spectrum.forEach((db, k) => {
      const at = (k * RATE) / size;
      if (keep.some((hertz) => Math.abs(at - hertz) <= width)) kept += 10 ** (db / 10);
      else if (at > 15) rest += 10 ** (db / 10);
    });
    return 10 * Math.log10(rest / kept);
  };
  it("adds no more than −100 dB of distortion to 100 Hz limited by 6 dB", () => {
    const [out] = through([{ type: "limiter", ceilingDbtp: -7 }], [sine(100, -1, 6, RATE)]);
    expect(residueDb(out!, [100])).toBeLessThan(-100);
  });
  it("keeps the intermodulation of 60 Hz and 7 kHz (4 : 1), limited by 6 dB, under −60 dB", () => {
    const low = sine(60, -1 - 1.94, 6, RATE);
    const high = sine(7000, -1 - 13.98, 6, RATE);
    const [out] = through([{ type: "limiter", ceilingDbtp: -7 }], [low.map((v, i) => v + high[i]!)]);
    expect(residueDb(out!, [60, 7000])).toBeLessThan(-60);
  });
});

describe("tone match", () => {
  it("brings noise within 0.5 dB of its reference in every third of an octave", () => {
    const thirds = Array.from({ length: 25 }, (_, n) => 63 * 2 ** (n / 3));
    const tone = [bell(150, 6, 0.8), shelf("high", 3000, -8, 0.7)];
    const own = Array.from({ length: 241 }, (_, n): [number, number] => [20 * 2 ** (n / 24), -40]);
    const wanted = own.map(([hertz]): [number, number] => [
      hertz,
      -52 + 10 * Math.log10(tone.reduce((product, one) => product * powerAt(one, hertz), 1)),
    ]);
    for (const phase of ["minimum", "linear"]) {
      const settings = {
        own,
        wanted,
        amountPercent: 100,
        smoothing: "12",
        maxChangeDb: 24,
        fromHz: 20,
        toHz: 20000,
        phase,
      };
      const [out] = through([{ type: "tone-match", ...settings }], [impulseAt(9600, 48000)]);
      const errors = thirds.map((hertz) => {
        const reached = responseDb(out!, hertz, RATE);
        const asked = 10 * Math.log10(tone.reduce((product, one) => product * powerAt(one, hertz), 1));
        return reached - asked;
      });
      const mean = errors.reduce((sum, v) => sum + v, 0) / errors.length;
      for (const error of errors) expect(Math.abs(error - mean)).toBeLessThan(0.5);
    }
  });
});

describe("expander", () => {
  it("turns down what is quiet by its range at most, and leaves what is loud alone", () => {
    const settings = { thresholdDb: -40, ratio: 4, rangeDb: 15, kneeDb: 0, hysteresisDb: 0, holdMs: 0 };
    const cutOf = (level: number) => {
      const x = sine(1000, level, 3, RATE);
      return rmsDb(through([{ type: "expander", ...settings }], [x])[0]!, 100_000) - rmsDb(x, 100_000);
    };
    expect(cutOf(-20)).toBeCloseTo(0, 3);
    expect(cutOf(-43)).toBeCloseTo(-9, 1);
    expect(cutOf(-70)).toBeCloseTo(-15, 1);
  });
});

describe("ambience", () => {
  it("dies away by 60 dB in its decay", () => {
    const [out] = through(
      [{ type: "ambience", amountPercent: 100, decaySeconds: 1, dampHz: 16000, fromHz: 20, earlyMs: 0 }],
      [impulseAt(0, 2 * RATE)],
    );
    const fall = rmsDb(out!, 0.2 * RATE, 0.4 * RATE) - rmsDb(out!, 0.7 * RATE, 0.9 * RATE);
    expect(fall).toBeGreaterThan(24);
    expect(fall).toBeLessThan(40);
  });
});

describe("gain around a processor", () => {
  it("is set before and after, and mixed with what came in, in time", () => {
    const x = noise(0.1, RATE, -12, 4);
    const [half] = through([{ type: "limiter", ceilingDbtp: 0, inputDb: 6, outputDb: -6 }], [x]);
    half!.forEach((v, i) => expect(v).toBeCloseTo(x[i]!, 5));
    const [mixed] = through([{ type: "compressor", ratio: 1, lookAheadMs: 5, makeUpDb: 6.0206, mix: 50 }], [x]);
    mixed!.forEach((v, i) => expect(v).toBeCloseTo(1.5 * x[i]!, 4));
    expect(dbToGain(6.0206)).toBeCloseTo(2, 4);
  });
});
