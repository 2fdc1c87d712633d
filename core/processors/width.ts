import { power } from "../math/deterministic-math";
import { slicePlanar, type Hertz } from "../audio/units";
import { butterworth, BiquadFilter } from "../dsp/butterworth";
import { crossover } from "../dsp/crossover";
import { number, type SettingsOf } from "../parameters/parameter";
import type { ProcessorDefinition } from "./processor";

const width = (label: string, help: string) =>
  number(label, help, { unit: "%", min: 0, max: 200, step: 1, default: 100 });
const corner = (label: string, help: string, hertz: number) =>
  number(label, help, { unit: "Hz", min: 40, max: 12000, step: 10, scale: "log", default: hertz });

const parameters = {
  lowPercent: width("Low width", "Of the lowest band; 0 is mono, 100 as it came"),
  midPercent: width("Mid width", "Of the middle band"),
  highPercent: width("High width", "Of the highest band"),
  lowHz: corner("Low crossover", "Between the lowest band and the middle one", 200),
  highHz: corner("High crossover", "Between the middle band and the highest one", 4000),
  monoBelowHz: number("Mono below", "The sides carry nothing below this; 10 Hz leaves them alone", {
    unit: "Hz",
    min: 10,
    max: 400,
    step: 5,
    scale: "log",
    default: 10,
  }),
};

type Settings = SettingsOf<typeof parameters>;
const isPlain = ({ lowPercent, midPercent, highPercent }: Settings): boolean =>
  lowPercent === midPercent && midPercent === highPercent;

/** Gain of the side at a frequency, for a drawing: bands of the fourth order in phase, the high-pass behind them. */
export function sideGain(settings: Settings, hertz: Hertz): number {
  const below = (corner: Hertz) => 1 / (1 + power(hertz / corner, 4));
  const [low, high] = [settings.lowHz, settings.highHz].sort((a, b) => a - b) as [Hertz, Hertz];
  const above = (settings.midPercent * below(high) + settings.highPercent * (1 - below(high))) * (1 - below(low));
  const bands = (settings.lowPercent * below(low) + above) / 100;
  const { monoBelowHz } = settings;
  return monoBelowHz > 10 ? bands * Math.sqrt(1 - 1 / (1 + power(hertz / monoBelowHz, 8))) : bands;
}

/** How wide the image is, in three bands. Only for stereo. */
export const stereoWidth: ProcessorDefinition<typeof parameters> = {
  id: "width",
  name: "Width",
  group: "space",
  help: "Makes the image narrower or wider, band by band, and bass mono",
  keywords: "stereo image mono sides wide narrow mid side",
  parameters,
  commonControls: "none",
  visualiser: { kind: "width" },
  stereoOnly: true,
  memory: 1,
  create(settings, { sampleRate, layout }, _, moves) {
    const { lowPercent, monoBelowHz } = settings;
    const plain = isPlain(settings) && !moves;
    const mono = monoBelowHz > 10;
    if (layout.speakers.length !== 2 || (plain && lowPercent === 100 && !mono))
      return { latency: 0, process: () => undefined };
    const corners = [settings.lowHz, settings.highHz].sort((a, b) => a - b);
    const splitter = plain ? null : crossover("no delay", corners, 1, sampleRate);
    // The middle turns with the sides, so that both still fit together.
    const turner = plain ? null : crossover("no delay", corners, 1, sampleRate);
    const highPass = mono ? new BiquadFilter(butterworth("high", monoBelowHz, 4, sampleRate), 1) : null;
    const gains = [lowPercent, settings.midPercent, settings.highPercent].map((percent) => percent / 100);
    return {
      latency: 0,
      state: [...(splitter?.state ?? []), ...(turner?.state ?? []), ...(highPass ? [highPass] : [])],
      process(given, frames) {
        const [left, right] = slicePlanar(given, 0, frames) as [Float32Array, Float32Array];
        let mid = left.map((v, i) => 0.5 * (v + right[i]!));
        let side = left.map((v, i) => 0.5 * (v - right[i]!));
        highPass?.process([side]);
        if (splitter && turner) {
          const parts = splitter.split([side], frames).map(([part]) => part!);
          side = side.map((_, i) => parts.reduce((sum, part, b) => sum + gains[b]! * part[i]!, 0));
          const turned = turner.split([mid], frames).map(([part]) => part!);
          mid = mid.map((_, i) => turned.reduce((sum, part) => sum + part[i]!, 0));
        } else if (gains[0] !== 1) side = side.map((v) => v * gains[0]!);
        for (let i = 0; i < frames; i++) {
          left[i] = mid[i]! + side[i]!;
          right[i] = mid[i]! - side[i]!;
        }
      },
    };
  },
  automatable: ["lowPercent", "midPercent", "highPercent"],
  predict: (levels) => levels,
  summary: (settings) =>
    isPlain(settings)
      ? `${settings.lowPercent} %${settings.monoBelowHz > 10 ? `, mono below ${settings.monoBelowHz} Hz` : ""}`
      : `${settings.lowPercent} / ${settings.midPercent} / ${settings.highPercent} %`,
  presets: [
    { name: "Mono bass", use: "for vinyl and for small loudspeakers", settings: { monoBelowHz: 120 } },
    { name: "Wider top", use: "where cymbals and rooms should open", settings: { highPercent: 125, highHz: 5000 } },
    {
      name: "Narrow",
      use: "for a mix that falls apart in mono",
      settings: { lowPercent: 60, midPercent: 80, highPercent: 90 },
    },
  ],
};
