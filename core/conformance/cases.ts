/**
 * The synthesizable signals of EBU Tech 3341 (1–6, 9–23) and EBU Tech 3342 (1–4), with what a meter must read. Cases 7
 * and 8 of the one and 5 and 6 of the other are recordings, which nobody can make again.
 */
import type { Planar } from "../audio/units";
import { burstBetweenSamples, fractionOfRate, toneOf, type SignalSegment } from "./signals";

/** What is read of the meter: a figure of the whole, or what a running meter shows. */
export type Reading =
  | "integratedLufs"
  | "momentaryMaxLufs"
  | "shortTermMaxLufs"
  | "loudnessRangeLu"
  | "truePeakDbtp"
  /** The running short-term loudness that is farthest from what is expected, once 3 s have passed. */
  | "shortTermThroughout"
  /** The running momentary loudness likewise, once 1 s has passed. */
  | "momentaryThroughout"
  /** Maxima of the running meter in each part of the signal. */
  | "shortTermMaxOfParts"
  | "momentaryMaxOfParts";

export interface Expectation {
  reading: Reading;
  /** One value; or one for each part, or for each signal. */
  expected: number | readonly number[];
  /** How far below and above the reading may be. */
  below: number;
  above: number;
  unit: "LUFS" | "LU" | "dBTP";
}

export interface ConformanceCase {
  id: string;
  standard: string;
  description: string;
  layout: "stereo" | "5.0";
  /** How many signals there are; most have one. */
  signals: number;
  make(signal: number, sampleRate: number): Planar;
  /** Where parts begin, in seconds, for readings of parts. */
  parts?: readonly number[];
  expectations: readonly Expectation[];
}

const both = (x: Float32Array): Planar => [x, x];
const SILENCE = -Infinity;
const TWENTY = Array.from({ length: 20 }, (_, i) => i);

const loudness = (reading: Reading, expected: number | readonly number[]): Expectation => ({
  reading,
  expected,
  below: 0.1,
  above: 0.1,
  unit: "LUFS",
});

const tones = (
  number: number,
  words: string,
  stretches: readonly SignalSegment[],
  expectations: readonly Expectation[],
  standard = "EBU Tech 3341",
): ConformanceCase => ({
  id: `${standard.slice(-4)}-${number}`,
  standard: `${standard}, case ${number}`,
  description: words,
  layout: "stereo",
  signals: 1,
  make: (_, sampleRate) => both(toneOf(stretches, sampleRate)),
  expectations,
});

/** Twenty signals, each with its own silence before the tone: the maximum must be found wherever it lies. */
const shifted = (number: number, words: string, step: number, length: number, reading: Reading): ConformanceCase => ({
  id: `3341-${number}`,
  standard: `EBU Tech 3341, case ${number}`,
  description: words,
  layout: "stereo",
  signals: TWENTY.length,
  make: (signal, sampleRate) =>
    both(
      toneOf(
        [
          [SILENCE, step * signal],
          [-23, length],
          [SILENCE, 1],
        ],
        sampleRate,
      ),
    ),
  expectations: [loudness(reading, -23)],
});

/** Twenty tones in a row, each a decibel higher, each at another place of its part. */
const rising = (number: number, words: string, step: number, length: number, reading: Reading): ConformanceCase => ({
  ...tones(
    number,
    words,
    TWENTY.flatMap((i): SignalSegment[] => [
      [SILENCE, step * i],
      [-38 + i, length],
      [SILENCE, length - step * i],
    ]),
    [
      loudness(
        reading,
        TWENTY.map((i) => -38 + i),
      ),
    ],
  ),
  parts: TWENTY.map((i) => 2 * length * i),
});

const peak = (number: number, words: string, expected: number, x: (sampleRate: number) => Float32Array) =>
  ({
    id: `3341-${number}`,
    standard: `EBU Tech 3341, case ${number}`,
    description: words,
    layout: "stereo",
    signals: 1,
    make: (_, sampleRate) => both(x(sampleRate)),
    expectations: [{ reading: "truePeakDbtp", expected, below: 0.4, above: 0.2, unit: "dBTP" }],
  }) satisfies ConformanceCase;

const range = (number: number, levels: readonly number[], expected: number) =>
  tones(
    number,
    `Tones of 20 s at ${levels.map((level) => `−${-level}`).join(", ")} dBFS`,
    levels.map((level): SignalSegment => [level, 20]),
    [{ reading: "loudnessRangeLu", expected, below: 1, above: 1, unit: "LU" }],
    "EBU Tech 3342",
  );

const sine = (divisor: number, degrees: number, amplitude: number) => (sampleRate: number) =>
  fractionOfRate(divisor, degrees, amplitude, 1, sampleRate);

const repeated = (times: number, ...stretches: SignalSegment[]): SignalSegment[] =>
  Array.from({ length: times }, () => stretches).flat();

const MIDDLE: SignalSegment[] = [
  [-36, 10],
  [-23, 60],
  [-36, 10],
];

export const CONFORMANCE_CASES: readonly ConformanceCase[] = [
  tones(
    1,
    "A tone at −23 dBFS, 20 s",
    [[-23, 20]],
    [loudness("momentaryMaxLufs", -23), loudness("shortTermMaxLufs", -23), loudness("integratedLufs", -23)],
  ),
  tones(
    2,
    "A tone at −33 dBFS, 20 s",
    [[-33, 20]],
    [loudness("momentaryMaxLufs", -33), loudness("shortTermMaxLufs", -33), loudness("integratedLufs", -33)],
  ),
  tones(3, "Relative gate: −36, −23, −36 dBFS", MIDDLE, [loudness("integratedLufs", -23)]),
  tones(4, "Absolute gate: −72 around case 3", [[-72, 10], ...MIDDLE, [-72, 10]], [loudness("integratedLufs", -23)]),
  tones(
    5,
    "Averaging: −26, −20, −26 dBFS",
    [
      [-26, 20],
      [-20, 20.1],
      [-26, 20],
    ],
    [loudness("integratedLufs", -23)],
  ),
  {
    id: "3341-6",
    standard: "EBU Tech 3341, case 6",
    description: "Channel weights: 5.0, sides −28, centre −24, surrounds −30 dBFS",
    layout: "5.0",
    signals: 1,
    make: (_, sampleRate) => [-28, -28, -24, -30, -30].map((level) => toneOf([[level, 20]], sampleRate)),
    expectations: [loudness("integratedLufs", -23)],
  },
  tones(9, "Short-term window: 1.34 s at −20, 1.66 s at −30 dBFS, five times", repeated(5, [-20, 1.34], [-30, 1.66]), [
    loudness("shortTermThroughout", -23),
  ]),
  shifted(10, "Short-term maximum of a tone of 3 s, at twenty places", 0.15, 3, "shortTermMaxLufs"),
  rising(11, "Short-term maxima of twenty tones of 3 s, live", 0.15, 3, "shortTermMaxOfParts"),
  tones(12, "Momentary window: 0.18 s at −20, 0.22 s at −30 dBFS, 25 times", repeated(25, [-20, 0.18], [-30, 0.22]), [
    loudness("momentaryThroughout", -23),
  ]),
  shifted(13, "Momentary maximum of a tone of 0.4 s, at twenty places", 0.02, 0.4, "momentaryMaxLufs"),
  rising(14, "Momentary maxima of twenty tones of 0.4 s, live", 0.02, 0.4, "momentaryMaxOfParts"),
  peak(15, "A quarter of the rate, 0°, 0.5 of full scale", -6, sine(4, 0, 0.5)),
  peak(16, "A quarter of the rate, 45°, 0.5 of full scale", -6, sine(4, 45, 0.5)),
  peak(17, "A sixth of the rate, 60°, 0.5 of full scale", -6, sine(6, 60, 0.5)),
  peak(18, "An eighth of the rate, 67.5°, 0.5 of full scale", -6, sine(8, 67.5, 0.5)),
  peak(19, "A quarter of the rate, 45°, 1.41 of full scale", 3, sine(4, 45, 1.41)),
  ...([0, 1, 2, 3] as const).map((offset) =>
    peak(20 + offset, `One period of a sixth of the rate, decimated from sample ${offset}`, 0, (sampleRate) =>
      burstBetweenSamples(offset, 0.2, sampleRate),
    ),
  ),
  range(1, [-20, -30], 10),
  range(2, [-20, -15], 5),
  range(3, [-40, -20], 20),
  range(4, [-50, -35, -20, -35, -50], 15),
];

/** The rates at which conformance is shown. */
export const CONFORMANCE_RATES = [44_100, 48_000, 88_200, 96_000, 176_400, 192_000] as const;
