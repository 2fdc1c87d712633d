import { power } from "../math/deterministic-math";
import { butterworth, BiquadFilter } from "../dsp/butterworth";
import { slicePlanar } from "../audio/units";
import { DelayLine } from "../dsp/delay-line";
import { oversampled } from "../dsp/oversampling";
import { number, type SettingsOf } from "../parameters/parameter";
import type { ProcessorDefinition } from "./processor";
import { waveshaped } from "./saturation";

const parameters = {
  highPercent: number("High harmonics", "How much is made of what lies above", {
    unit: "%",
    min: 0,
    max: 100,
    step: 1,
    default: 0,
  }),
  highHz: number("High frequency", "From here on new harmonics are made for the top", {
    unit: "Hz",
    min: 1500,
    max: 10000,
    step: 50,
    scale: "log",
    default: 4000,
  }),
  lowPercent: number("Low harmonics", "How much is made of what lies below", {
    unit: "%",
    min: 0,
    max: 100,
    step: 1,
    default: 0,
  }),
  lowHz: number("Low frequency", "Up to here harmonics are made, so that small loudspeakers tell the bass", {
    unit: "Hz",
    min: 40,
    max: 250,
    step: 1,
    scale: "log",
    default: 100,
  }),
};

/** How hard the band is bent, and by how much it is lopsided, for harmonics of both kinds. */
const DRIVE = 6;
const BIAS = 0.25;
/** At 100 % the new harmonics are about as strong as the band that they come from. */
const MOST = 2;

/** Harmonics alone: what bending adds, without what goes through it straight. Hot. */
function harmonics(x: Float32Array): void {
  const offset = waveshaped(BIAS);
  const slope = power(1 - BIAS * BIAS, 3);
  for (let i = 0; i < x.length; i++) {
    const v = x[i]!;
    x[i] = (waveshaped(v * DRIVE + BIAS) - offset) / (DRIVE * slope) - v;
  }
}

/** New harmonics for the top and for the bass. */
export const enhancer: ProcessorDefinition<typeof parameters> = {
  id: "enhancer",
  name: "Enhancer",
  group: "colour",
  help: "Makes harmonics of the top, for air, and of the bass, so that small loudspeakers tell it",
  keywords: "exciter air sparkle bass harmonics presence enhance",
  parameters,
  commonControls: "levels and sides",
  visualiser: { kind: "enhancer harmonics" },
  memory: 0.5,
  create(settings, { sampleRate, layout }) {
    const channels = layout.speakers.length;
    const ways = [
      {
        amount: (MOST * settings.highPercent) / 100,
        before: butterworth("high", Math.min(settings.highHz, 0.4 * sampleRate), 4, sampleRate),
        after: butterworth("high", Math.min(settings.highHz, 0.4 * sampleRate), 2, sampleRate),
      },
      {
        amount: (MOST * settings.lowPercent) / 100,
        before: butterworth("low", settings.lowHz, 4, sampleRate),
        // Harmonics up to the fourth or so; nothing below hearing, nothing that muddies the middle.
        after: [
          ...butterworth("high", settings.lowHz * 0.9, 2, sampleRate),
          ...butterworth("low", Math.min(settings.lowHz * 5, 0.4 * sampleRate), 2, sampleRate),
        ],
      },
    ]
      .filter(({ amount }) => amount > 0)
      .map(({ amount, before, after }) => ({
        amount,
        before: new BiquadFilter(before, channels),
        after: new BiquadFilter(after, channels),
        lines: layout.speakers.map(() => oversampled(2, sampleRate, { reference: harmonics })),
      }));
    if (ways.length === 0) return { latency: 0, process: () => undefined };
    const { latency } = ways[0]!.lines[0]!;
    const delays = layout.speakers.map(() => new DelayLine(latency));
    return {
      latency,
      // What its doubled rates remember is over before a processor of the next settings is heard.
      state: [...ways.flatMap(({ before, after }) => [before, after]), ...delays],
      process(given, frames) {
        const block = slicePlanar(given, 0, frames);
        const added = ways.map(({ before, after, lines }) => {
          const band = block.map((x) => x.slice());
          before.process(band);
          band.forEach((x, c) => lines[c]!.process(x));
          after.process(band);
          return band;
        });
        block.forEach((x, c) => {
          delays[c]!.process(x);
          added.forEach((made, w) => {
            const { amount } = ways[w]!;
            const own = made[c]!;
            for (let i = 0; i < frames; i++) x[i] = x[i]! + amount * own[i]!;
          });
        });
      },
    };
  },
  automatable: ["highPercent", "lowPercent"],
  predict: (levels) => levels,
  summary: ({ highPercent, lowPercent }: SettingsOf<typeof parameters>) => `high ${highPercent} %, low ${lowPercent} %`,
  presets: [
    { name: "Air", use: "a dull recording", settings: { highPercent: 25, highHz: 6000 } },
    {
      name: "Bass for small loudspeakers",
      use: "where the bass is felt but not heard",
      settings: { lowPercent: 35, lowHz: 90 },
    },
  ],
};
