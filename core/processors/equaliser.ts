import { bandPassSection, bell, cut, notch, powerAt, shelf, tilt, type AnalogueBiquad } from "../dsp/analogue-filter";
import { slicePlanar, type Frames, type Hertz, type Planar } from "../audio/units";
import { DelayLine } from "../dsp/delay-line";
import { FirConvolver } from "../dsp/fir-convolver";
import { linearPhaseTaps } from "../dsp/magnitude-filter";
import { matchedFilter } from "../dsp/matched-filter";
import { choice, number, onOff, type Row, type RowsParameter, type SettingsOf } from "../parameters/parameter";
import { predictTone } from "./predict-tone";
import type { Processor, ProcessorDefinition } from "./processor";
import { BiquadCascade } from "../dsp/biquad-cascade";

export const BAND_SHAPES = {
  bell: "bell",
  "low shelf": "low shelf",
  "high shelf": "high shelf",
  "high-pass": "high-pass",
  "low-pass": "low-pass",
  notch: "notch",
  "band-pass": "band-pass",
  tilt: "tilt",
} as const;

const band = {
  shape: choice("Shape", "What the band does around its frequency", BAND_SHAPES),
  hertz: number("Frequency", "Middle of a bell or notch, corner of a shelf or cut", {
    unit: "Hz",
    min: 10,
    max: 22000,
    step: 1,
    scale: "log",
    default: 1000,
  }),
  gainDb: number("Gain", "How far it lifts or lowers", { unit: "dB", min: -24, max: 24, step: 0.1, default: 0 }),
  q: number("Q", "Narrow is high; 0.7 is the steepest shelf without a bump", {
    unit: "",
    min: 0.1,
    max: 40,
    step: 0.05,
    scale: "log",
    default: 1,
  }),
  slope: choice("Slope", "How steeply a high- or low-pass falls", {
    "12": "12 dB/oct",
    "6": "6 dB/oct",
    "24": "24 dB/oct",
    "48": "48 dB/oct",
    "96": "96 dB/oct",
  }),
  on: onOff("On", "Whether the band does anything", true),
  sides: choice("Sides", "All channels, or one side of a stereo signal", {
    all: "all",
    left: "left",
    right: "right",
    mid: "middle",
    side: "side",
  }),
};

const parameters = {
  bands: {
    kind: "rows",
    label: "Bands",
    help: "What lifts and lowers, each around a frequency of its own",
    one: "band",
    columns: band,
    least: 0,
    most: 24,
    default: [] as readonly Row[],
  } as const satisfies RowsParameter,
  phase: choice("Phase", "Without delay as analogue equalisers do, or linear: no phase shift, some ringing before", {
    minimum: "without delay",
    linear: "linear phase",
  }),
};

export type EqualiserBand = SettingsOf<typeof parameters>["bands"][number];

/** The analogue sections that a band stands for. */
export function biquadsOfBand({ shape, hertz, gainDb, q, slope, on }: EqualiserBand): AnalogueBiquad[] {
  if (!on) return [];
  switch (shape) {
    case "high-pass":
      return cut("high", hertz, Number(slope) / 6);
    case "low-pass":
      return cut("low", hertz, Number(slope) / 6);
    case "notch":
      return [notch(hertz, q)];
    case "band-pass":
      return [bandPassSection(hertz, q)];
    case "tilt":
      return gainDb === 0 ? [] : [tilt(hertz, gainDb)];
    case "bell":
      return gainDb === 0 ? [] : [bell(hertz, gainDb, q)];
    case "low shelf":
      return gainDb === 0 ? [] : [shelf("low", hertz, gainDb, q)];
    case "high shelf":
      return gainDb === 0 ? [] : [shelf("high", hertz, gainDb, q)];
  }
}

/** Which bands work where, in the order in which they do. */
const PLACES = ["all", "left", "right", "mid", "side"] as const;

/** Filters for every place that has any; `make` builds one over so many channels. */
function placed(
  bands: readonly EqualiserBand[],
  channels: number,
  make: (sections: AnalogueBiquad[], channels: number) => Processor,
): Processor {
  const twoSided = channels === 2;
  const sectionsAt = (place: (typeof PLACES)[number]) =>
    bands.filter(({ sides }) => (twoSided ? sides : "all") === place).flatMap(biquadsOfBand);
  const built = PLACES.map((place) => ({ place, sections: sectionsAt(place) }))
    .filter(({ sections }) => sections.length > 0)
    .map(({ place, sections }) => ({ place, filter: make(sections, place === "all" ? channels : 1) }));
  // What goes round a filter is delayed like it.
  const waiting = built.map(({ filter }) => new DelayLine(filter.latency));
  return {
    latency: built.reduce((sum, { filter }) => sum + filter.latency, 0),
    // Long filters cannot go on from others.
    ...(built.every(({ filter }) => filter.state) ? { state: built.flatMap(({ filter }) => filter.state!) } : {}),
    process(given, frames) {
      const block = slicePlanar(given, 0, frames);
      built.forEach(({ place, filter }, n) => {
        if (place === "all") return filter.process(block, frames);
        const [left, right] = block as [Float32Array, Float32Array];
        if (place === "left" || place === "right") {
          filter.process([place === "left" ? left : right], frames);
          return waiting[n]!.process(place === "left" ? right : left);
        }
        onSides(left, right, place, filter, waiting[n]!, frames);
      });
    },
  };
}

function onSides(
  left: Float32Array,
  right: Float32Array,
  place: "mid" | "side",
  filter: Processor,
  waiting: DelayLine,
  frames: Frames,
): void {
  const mid = left.map((v, i) => 0.5 * (v + right[i]!));
  const side = left.map((v, i) => 0.5 * (v - right[i]!));
  filter.process([place === "mid" ? mid : side], frames);
  waiting.process(place === "mid" ? side : mid);
  for (let i = 0; i < frames; i++) {
    left[i] = mid[i]! + side[i]!;
    right[i] = mid[i]! - side[i]!;
  }
}

function minimumPhase(sections: AnalogueBiquad[], channels: number, rate: Hertz): Processor {
  const cascade = new BiquadCascade(matchedFilter(sections, rate)!, channels);
  return { latency: 0, state: [cascade], process: (block, frames) => cascade.process(block, frames) };
}

function linearPhase(sections: AnalogueBiquad[], channels: number, rate: Hertz): Processor {
  const magnitude = (hertz: Hertz) => Math.sqrt(sections.reduce((product, one) => product * powerAt(one, hertz), 1));
  return convolution(linearPhaseTaps(magnitude, rate), channels, true);
}

/** One long filter over some channels; a symmetric one is delayed by half of its length. */
export function convolution(taps: Float64Array, channels: number, symmetric: boolean): Processor {
  const convolver = new FirConvolver([taps], channels);
  return {
    latency: convolver.latency + (symmetric ? (taps.length - 1) / 2 : 0),
    process(block: Planar, frames) {
      const [out] = convolver.process(block, frames);
      out!.forEach((x, c) => block[c]!.set(x));
    },
  };
}

/** Lifts and lowers parts of the spectrum. */
export const equaliser: ProcessorDefinition<typeof parameters> = {
  id: "equaliser",
  name: "Equaliser",
  group: "tone",
  help: "Lifts and lowers parts of the spectrum, each side or the middle for itself if asked",
  keywords: "eq parametric bell shelf notch tilt frequency bright dull mud presence air",
  parameters,
  commonControls: "all",
  visualiser: { kind: "equaliser bands" },
  memory: 2,
  create({ bands, phase }, { sampleRate, layout }) {
    const make = phase === "linear" ? linearPhase : minimumPhase;
    return placed(bands, layout.speakers.length, (sections, channels) => make(sections, channels, sampleRate));
  },
  automatable: ["hertz", "gainDb", "q"],
  canAutomate: ({ phase }) => phase === "minimum",
  predict: (levels, { bands }) =>
    predictTone(levels, bands.filter(({ sides }) => sides === "all" || sides === "mid").flatMap(biquadsOfBand)),
  summary: ({ bands, phase }) =>
    bands.length === 0
      ? "no bands"
      : `${bands.length} ${bands.length === 1 ? "band" : "bands"}${phase === "linear" ? ", linear phase" : ""}`,
  presets: [
    {
      name: "Voice, clearer",
      use: "speech that is dull and boomy",
      settings: {
        bands: [
          { shape: "high-pass", hertz: 75, gainDb: 0, q: 1, slope: "24", on: true, sides: "all" },
          { shape: "bell", hertz: 240, gainDb: -2.5, q: 0.9, slope: "12", on: true, sides: "all" },
          { shape: "bell", hertz: 3600, gainDb: 2, q: 0.8, slope: "12", on: true, sides: "all" },
        ],
      },
    },
    {
      name: "Wider top",
      use: "a mix that is flat: air at the sides only",
      settings: {
        bands: [{ shape: "high shelf", hertz: 9000, gainDb: 1.5, q: 0.7, slope: "12", on: true, sides: "side" }],
      },
    },
    {
      name: "Firm bass",
      use: "bass in the middle, nothing at the sides",
      settings: {
        bands: [
          { shape: "low shelf", hertz: 80, gainDb: 1.2, q: 0.7, slope: "12", on: true, sides: "mid" },
          { shape: "high-pass", hertz: 110, gainDb: 0, q: 1, slope: "12", on: true, sides: "side" },
        ],
      },
    },
  ],
};
