import { amountOf } from "./amount";
import { dbToGain, gainToDb } from "../audio/decibel";
import { formatDb } from "../audio/format";
import type { Parameters, SettingsOf } from "../parameters/parameter";
import type { Frames, Seconds } from "../audio/units";
import { clicksIn, predictionOrder, predictors, type Click, type ClickKind } from "./click-detection";
import { interpolateGaps } from "../dsp/linear-prediction";
import type { RepairDefinition, RepairFormat } from "./repair";
import type { BlockContext } from "../audio/block-context";

const parametersFor = (thresholdDb: number, longestMs: number) =>
  ({
    thresholdDb: {
      kind: "number",
      label: "Threshold",
      help: "How far a click must stand out of everything within 20 ms; lower finds more",
      unit: "dB",
      min: 2,
      max: 30,
      step: 0.5,
      scale: "linear",
      default: thresholdDb,
    },
    longestMs: {
      kind: "number",
      label: "Max length",
      help: "What lasts longer is left alone",
      unit: "ms",
      min: 0.2,
      max: 12,
      step: 0.1,
      scale: "log",
      default: longestMs,
    },
    amount: amountOf("How much of each click is taken away"),
  }) as const satisfies Parameters;

type ClickParameters = ReturnType<typeof parametersFor>;
type ClickSettings = SettingsOf<ClickParameters>;

/** Errors are compared with what is around, over this long to each side, twice (the predictor's stretch as well). */
const SURROUNDINGS: Seconds = 0.12;

interface Words {
  id: string;
  name: string;
  help: string;
}

function clickRepair(
  { id, name, help }: Words,
  kind: ClickKind,
  parameters: ClickParameters,
): RepairDefinition<ClickParameters> {
  const search = (
    x: Float64Array,
    { first }: BlockContext,
    settings: ClickSettings,
    { sampleRate }: RepairFormat,
  ): Click[] =>
    clicksIn(x, first, sampleRate, kind, {
      threshold: dbToGain(settings.thresholdDb),
      longest: Math.round((settings.longestMs / 1000) * sampleRate),
    });
  return {
    id,
    name,
    help,
    parameters,
    contextSeconds: () => SURROUNDINGS,
    isNeutral: ({ amount }) => amount === 0,
    create(settings, _, format) {
      const share = settings.amount / 100;
      return (block, place) => {
        for (const channel of block) {
          const x = Float64Array.from(channel);
          const clicks = search(x, place, settings, format);
          const spoilt = new Uint8Array(x.length);
          for (const { from, to } of clicks) spoilt.fill(1, from, to);
          const predictorAt = predictors(x, place.first, format.sampleRate, kind.stretch, spoilt);
          for (const near of groups(clicks, predictionOrder(format.sampleRate), kind.stretch * format.sampleRate)) {
            const [first, end] = [near[0]!.from, near.at(-1)!.to];
            if (end <= place.from || first >= place.to) continue;
            interpolateGaps(x, near, predictorAt((first + end) >> 1));
            for (const { from, to } of near)
              for (let i = Math.max(from, place.from); i < Math.min(to, place.to); i++)
                channel[i] = channel[i]! + share * (x[i]! - channel[i]!);
          }
        }
      };
    },
    find: (settings, _, format) => (block, place) =>
      block.flatMap((channel, c) =>
        search(Float64Array.from(channel), place, settings, format)
          .filter(({ from }) => from >= place.from && from < place.to)
          .map(({ from, to, factor }) => ({
            start: place.first + from,
            end: place.first + to,
            channel: c,
            sizeDb: gainToDb(factor),
          })),
      ),
    summary: ({ thresholdDb, amount }) =>
      `from ${formatDb(thresholdDb)} dB${amount === 100 ? "" : `, ${Math.round(amount)} %`}`,
  };
}

/** Clicks that lie within the reach of prediction of each other, in stretches of at most `longest`. */
function groups(clicks: readonly Click[], reach: Frames, longest: Frames): Click[][] {
  const all: Click[][] = [];
  for (const click of clicks) {
    const group = all.at(-1);
    if (group && click.from - group.at(-1)!.to <= reach && click.to - group[0]!.from <= longest) group.push(click);
    else all.push([click]);
  }
  return all;
}

/** Sharp clicks: records, digital errors, switches. */
export const clicks = clickRepair(
  {
    id: "clicks",
    name: "Clicks",
    help: "Finds samples that nothing around predicts, and fills them from what surrounds them",
  },
  { spread: 0, edge: 0.03, stretch: 0.02, around: 0.018, beside: 0, narrow: 0.003 },
  parametersFor(9.5, 1.5),
);

/** Clicks that ring: lips and tongue. Errors by their sides are larger, so they are held against more. */
export const mouthNoise = clickRepair(
  {
    id: "mouth-noise",
    name: "Mouth noise",
    help: "Finds the short, ringing clicks of lips and tongue, and takes out what they add",
  },
  { spread: 0.0007, edge: 0.08, stretch: 0.03, around: 0.022, beside: 0.004, narrow: 0.004 },
  parametersFor(7.5, 6),
);
