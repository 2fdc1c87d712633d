/** What is looked for among recordings and masters, by words and by figures: “weir true peak over −1, no verdict”. */
import { LIMITED_FIGURES, type LimitedFigure } from "../delivery/spec";

/** Figures that can be asked for, by what people call them; longer names are looked for first. */
const NAMES: readonly [name: string, figure: LimitedFigure][] = [
  ["true peak", "truePeakDbtp"],
  ["sample peak", "samplePeakDbfs"],
  ["integrated loudness", "integratedLufs"],
  ["integrated", "integratedLufs"],
  ["loudness range", "loudnessRangeLu"],
  ["range", "loudnessRangeLu"],
  ["short-term max", "shortTermMaxLufs"],
  ["short-term", "shortTermMaxLufs"],
  ["momentary max", "momentaryMaxLufs"],
  ["momentary", "momentaryMaxLufs"],
  ["loudness", "integratedLufs"],
  ["dialogue", "dialogueLufs"],
  ["noise floor", "noiseFloorDbfs"],
  ["floor", "noiseFloorDbfs"],
  ["rms", "rmsDbfs"],
  ["length", "durationSeconds"],
];
/** The names, each once, for whoever asks what can be asked for. */
export const SEARCHED_FIGURES: readonly LimitedFigure[] = [...new Set(NAMES.map(([, figure]) => figure))];

const VERDICTS: readonly [words: RegExp, verdict: MediaQuery["verdict"]][] = [
  [/\bno verdict\b/g, "none"],
  [/\b(?:outside|fails?|failed)\b/g, "fail"],
  [/\b(?:inside|pass(?:es|ed)?)\b/g, "pass"],
];

export interface FigureCondition {
  figure: LimitedFigure;
  comparison: "over" | "under";
  value: number;
}

export interface MediaQuery {
  /** All of them are in a name. */
  words: string[];
  conditions: FigureCondition[];
  /** Of masters: inside its specification, outside, or not known; `null` for any. */
  verdict: "pass" | "fail" | "none" | null;
}

const OVER = /^(?:over|above|>)$/;

/** Reads what was typed; what is no condition is words. */
export function parseMediaQuery(typed: string): MediaQuery {
  let rest = typed.toLowerCase().replace(/[−–]/g, "-");
  const conditions: FigureCondition[] = [];
  for (const [name, figure] of NAMES) {
    const asked = new RegExp(`\\b${name}\\s*(over|above|under|below|[<>])\\s*(-?\\d+(?:\\.\\d+)?)`, "g");
    rest = rest.replace(asked, (_, comparison: string, value: string) => {
      conditions.push({ figure, comparison: OVER.test(comparison) ? "over" : "under", value: Number(value) });
      return " ";
    });
  }
  let verdict: MediaQuery["verdict"] = null;
  for (const [words, found] of VERDICTS)
    rest = rest.replace(words, () => {
      verdict ??= found;
      return " ";
    });
  return { words: rest.split(/[\s,;]+/).filter(Boolean), conditions, verdict };
}

/** “true peak over −1 dBTP”. */
export const conditionWords = ({ figure, comparison, value }: FigureCondition): string =>
  `${LIMITED_FIGURES[figure].label.toLowerCase()} ${comparison} ${String(value).replace("-", "−")} ${LIMITED_FIGURES[figure].unit}`;

/** Whether nothing is asked for. */
export const isAnything = ({ words, conditions, verdict }: MediaQuery): boolean =>
  words.length + conditions.length === 0 && verdict === null;
