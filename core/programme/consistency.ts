/** Items against each other: a book's chapters, a season's episodes. What lies apart from the rest, the furthest first. */
import type { Figures } from "../measure";
import type { Hertz } from "../audio/units";

/** What is compared, with how far from the median counts as apart. */
export const COMPARED = {
  integratedLufs: { label: "Integrated", unit: "LUFS", apart: 1.5 },
  rmsDbfs: { label: "RMS", unit: "dBFS", apart: 1.5 },
  truePeakDbtp: { label: "True peak", unit: "dBTP", apart: 3 },
  noiseFloorDbfs: { label: "Noise floor", unit: "dBFS", apart: 4 },
  spectralTiltDbPerOctave: { label: "Tone tilt", unit: "dB/octave", apart: 0.7 },
  headRoomToneSeconds: { label: "Head", unit: "s", apart: 0.3 },
  tailRoomToneSeconds: { label: "Tail", unit: "s", apart: 0.7 },
} as const;
export type ComparedFigure = keyof typeof COMPARED;

export interface ComparedItem {
  id: string;
  name: string;
  /** `null` where it is not known. */
  values: Readonly<Record<ComparedFigure, number | null>>;
  sampleRate: Hertz;
  channels: number;
}

export interface Consistency {
  medians: Readonly<Record<ComparedFigure, number | null>>;
  /** Those furthest apart first. */
  items: (ComparedItem & { apart: ComparedFigure[]; distance: number; remarks: string[] })[];
}

const median = (values: readonly number[]): number | null => {
  if (values.length === 0) return null;
  const sorted = [...values].sort((a, b) => a - b);
  const middle = sorted.length >> 1;
  return sorted.length % 2 ? sorted[middle]! : (sorted[middle - 1]! + sorted[middle]!) / 2;
};

export const comparedValues = (figures: Figures): ComparedItem["values"] => ({
  integratedLufs: figures.integratedLufs,
  rmsDbfs: figures.rmsDbfs,
  truePeakDbtp: figures.truePeakDbtp,
  noiseFloorDbfs: figures.noiseFloorDbfs,
  spectralTiltDbPerOctave: figures.spectralTiltDbPerOctave,
  headRoomToneSeconds: figures.headRoomToneSeconds,
  tailRoomToneSeconds: figures.tailRoomToneSeconds,
});

/** Numbers in names, by which chapters are counted; `null` where there is none. */
export function numberIn(name: string): number | null {
  const digits = /\d+/.exec(name);
  if (digits) return Number(digits[0]);
  const word = WORDS.findIndex((one) => new RegExp(`\\b${one}\\b`, "i").test(name));
  return word < 0 ? null : word + 1;
}

const WORDS = [
  ...["one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve"],
  ...["thirteen", "fourteen", "fifteen", "sixteen", "seventeen", "eighteen", "nineteen", "twenty"],
];

export function consistencyOf(items: readonly ComparedItem[]): Consistency {
  const names = Object.keys(COMPARED) as ComparedFigure[];
  const medianOf = (name: ComparedFigure) => median(items.flatMap(({ values }) => values[name] ?? []));
  const medians = Object.fromEntries(names.map((name) => [name, medianOf(name)])) as Consistency["medians"];
  const usual = (of: (item: ComparedItem) => number) => median(items.map(of));
  const [rate, channels] = [usual(({ sampleRate }) => sampleRate), usual(({ channels: count }) => count)];
  let expected: number | null = null;
  const compared = items.map((item) => {
    const distances = names.map((name) => {
      const [value, middle] = [item.values[name], medians[name]];
      return value === null || middle === null ? 0 : Math.abs(value - middle) / COMPARED[name].apart;
    });
    const number = numberIn(item.name);
    const remarks = [
      ...(item.sampleRate !== rate ? [`${item.sampleRate} Hz, others ${rate} Hz`] : []),
      ...(item.channels !== channels ? [`${item.channels} channels, others ${channels}`] : []),
      ...(number !== null && expected !== null && number !== expected
        ? [`number ${number} follows ${expected - 1}`]
        : []),
    ];
    if (number !== null) expected = number + 1;
    const apart = names.filter((_, i) => distances[i]! > 1);
    return { ...item, apart, remarks, distance: Math.max(0, ...distances) + remarks.length };
  });
  return { medians, items: compared.sort((a, b) => b.distance - a.distance) };
}
