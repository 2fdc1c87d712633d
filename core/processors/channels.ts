import { butterworth, BiquadFilter } from "../dsp/butterworth";
import { dbToGain } from "../audio/decibel";
import { slicePlanar } from "../audio/units";
import { DelayLine } from "../dsp/delay-line";
import { choice, number, onOff, type SettingsOf } from "../parameters/parameter";
import type { ProcessorDefinition } from "./processor";

const level = (side: string) =>
  number(`${side} level`, `Gain of the ${side.toLowerCase()} channel alone`, {
    unit: "dB",
    min: -24,
    max: 24,
    step: 0.1,
    default: 0,
  });
const delay = (side: string) =>
  number(`${side} later by`, `Delay of the ${side.toLowerCase()} channel, in whole samples`, {
    unit: "ms",
    min: 0,
    max: 100,
    step: 0.01,
    default: 0,
  });

const parameters = {
  order: choice("Order", "Which sides go where", {
    kept: "as they are",
    swapped: "left and right swapped",
    sum: "both to mono, at −6 dB each",
    left: "left on both",
    right: "right on both",
  }),
  leftDb: level("Left"),
  rightDb: level("Right"),
  invertLeft: onOff("Invert left", "Turns the left waveform over"),
  invertRight: onOff("Invert right", "Turns the right waveform over"),
  leftMs: delay("Left"),
  rightMs: delay("Right"),
  blockDc: onOff("Remove offset", "Takes away a constant offset and what lies below 3 Hz, in all channels"),
};

const DC_CORNER = 3;

/** Sides of a stereo signal: order, levels, polarity, delay; and the constant offset of any. */
export const channelTools: ProcessorDefinition<typeof parameters> = {
  id: "channels",
  name: "Channels",
  group: "level",
  help: "Swaps, folds, turns over, shifts and balances the two sides; takes away a constant offset",
  keywords: "swap mono polarity phase balance pan delay dc offset fold left right",
  parameters,
  commonControls: "none",
  stereoOnly: true,
  memory: 1,
  create(settings, { sampleRate, layout }) {
    const channels = layout.speakers.length;
    const blocker = settings.blockDc ? new BiquadFilter(butterworth("high", DC_CORNER, 2, sampleRate), channels) : null;
    const gains = [
      dbToGain(settings.leftDb) * (settings.invertLeft ? -1 : 1),
      dbToGain(settings.rightDb) * (settings.invertRight ? -1 : 1),
    ];
    const delays = [settings.leftMs, settings.rightMs].map((ms) => new DelayLine(Math.round((ms / 1000) * sampleRate)));
    return {
      latency: 0,
      state: [...(blocker ? [blocker] : []), ...delays],
      process(given, frames) {
        const block = slicePlanar(given, 0, frames);
        blocker?.process(block);
        if (channels !== 2) return;
        const [left, right] = block as [Float32Array, Float32Array];
        arrange(settings.order, left, right);
        block.forEach((x, c) => {
          delays[c]!.process(x);
          const gain = gains[c]!;
          if (gain !== 1) for (let i = 0; i < frames; i++) x[i] = x[i]! * gain;
        });
      },
    };
  },
  automatable: ["leftDb", "rightDb"],
  predict: (levels, { leftDb, rightDb }) => {
    const moved = (value: number) => value + (leftDb + rightDb) / 2;
    return { ...levels, peakDb: levels.peakDb.map(moved), momentaryLufs: levels.momentaryLufs.map(moved) };
  },
  summary({ order, blockDc }: SettingsOf<typeof parameters>) {
    const words = parameters.order.options.find(({ value }) => value === order)?.label ?? "";
    return blockDc ? `${words}, no offset` : words;
  },
  presets: [{ name: "No offset", use: "where the waveform does not rest at 0", settings: { blockDc: true } }],
};

function arrange(order: SettingsOf<typeof parameters>["order"], left: Float32Array, right: Float32Array): void {
  if (order === "kept") return;
  if (order === "left") right.set(left);
  else if (order === "right") left.set(right);
  else if (order === "swapped") {
    const held = left.slice();
    left.set(right);
    right.set(held);
  } else
    for (let i = 0; i < left.length; i++) {
      left[i] = 0.5 * (left[i]! + right[i]!);
      right[i] = left[i]!;
    }
}
