import { Measurer } from "../measure";
import { lufsOf } from "../measure/gating";
import { RunningLoudness } from "../measure/running-loudness";
import type { StreamFormat } from "../audio/stream-format";
import { hopStart } from "../measure/analysis-block";
import { layoutNamed } from "../audio/layout";
import { framesOf, slicePlanar, type Planar } from "../audio/units";
import type { ConformanceCase, Expectation } from "./cases";

export interface ConformanceResult {
  id: string;
  standard: string;
  description: string;
  sampleRate: number;
  reading: Expectation["reading"];
  unit: Expectation["unit"];
  /** What was expected where the reading was farthest from it. */
  expected: number;
  below: number;
  above: number;
  measured: number | null;
  pass: boolean;
}

type Figure = Exclude<
  Expectation["reading"],
  "shortTermThroughout" | "momentaryThroughout" | "shortTermMaxOfParts" | "momentaryMaxOfParts"
>;

/** Samples that are handed to the meter at once: a number that fits no window. */
const BLOCK = 4801;

function measure(block: Planar, format: StreamFormat) {
  const measurer = new Measurer(format);
  const frames = framesOf(block);
  for (let at = 0; at < frames; at += BLOCK) measurer.process(slicePlanar(block, at, Math.min(frames, at + BLOCK)));
  return measurer.result().figures;
}

/** What a running meter shows after each 10 ms. */
function* running(block: Planar, format: StreamFormat): Generator<{ momentary: number; shortTerm: number }> {
  const loudness = new RunningLoudness(format);
  const frames = framesOf(block);
  for (let hop = 0; hopStart(hop + 1, format.sampleRate) <= frames; hop++) {
    const [from, to] = [hopStart(hop, format.sampleRate), hopStart(hop + 1, format.sampleRate)];
    loudness.process(slicePlanar(block, from, to), to - from);
    const { momentary, shortTerm } = loudness.windows.now();
    yield { momentary: lufsOf(momentary), shortTerm: lufsOf(shortTerm) };
  }
}

const HOPS_PER_SECOND = 100;

/** All readings of a kind, each with what it should be. */
function readings(
  one: ConformanceCase,
  { reading, expected }: Expectation,
  format: StreamFormat,
): [number | null, number][] {
  const wanted = (index: number) => (typeof expected === "number" ? expected : expected[index]!);
  const live = () => [...running(one.make(0, format.sampleRate), format)];
  const maxima = (of: "momentary" | "shortTerm"): [number, number][] => {
    const shown = live();
    return one.parts!.map((start, part) => {
      const from = Math.round(start * HOPS_PER_SECOND);
      const to = Math.round((one.parts![part + 1] ?? Infinity) * HOPS_PER_SECOND);
      return [Math.max(...shown.slice(from, to).map((values) => values[of])), wanted(part)];
    });
  };
  switch (reading) {
    case "shortTermThroughout":
      return live()
        .slice(3 * HOPS_PER_SECOND)
        .map(({ shortTerm }) => [shortTerm, wanted(0)]);
    case "momentaryThroughout":
      return live()
        .slice(HOPS_PER_SECOND)
        .map(({ momentary }) => [momentary, wanted(0)]);
    case "shortTermMaxOfParts":
      return maxima("shortTerm");
    case "momentaryMaxOfParts":
      return maxima("momentary");
    default: {
      const figure: Figure = reading;
      return Array.from({ length: one.signals }, (_, signal) => [
        measure(one.make(signal, format.sampleRate), format)[figure],
        wanted(signal),
      ]);
    }
  }
}

/** Runs one case through the meter in use. Each expectation tells its farthest reading. */
export function runCase(one: ConformanceCase, sampleRate: number): ConformanceResult[] {
  const format = { sampleRate, layout: layoutNamed(one.layout)! };
  // A signal alone is measured once for all its expectations.
  const whole = one.signals === 1 && one.expectations.length > 1 ? measure(one.make(0, sampleRate), format) : null;
  return one.expectations.map((expectation) => {
    const { reading, below, above, unit } = expectation;
    const all: [number | null, number][] = whole
      ? [[whole[reading as Figure], expectation.expected as number]]
      : readings(one, expectation, format);
    const distance = ([value, wanted]: [number | null, number]) =>
      value === null ? Infinity : Math.abs(value - wanted);
    const farthest = all.reduce((worst, next) => (distance(next) > distance(worst) ? next : worst));
    const inside = ([value, wanted]: [number | null, number]) =>
      value !== null && value >= wanted - below && value <= wanted + above;
    return {
      id: one.id,
      standard: one.standard,
      description: one.description,
      sampleRate,
      reading,
      unit,
      expected: farthest[1],
      below,
      above,
      measured: farthest[0],
      pass: all.every(inside),
    };
  });
}
