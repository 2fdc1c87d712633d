import type { MeasurementDefinition } from "./measurement";

export interface PairCorrelation {
  pair: [string, string];
  correlation: number | null;
}

export interface CorrelationFigures {
  /** Of a stereo pair; `null` for other layouts and where a side is silent. */
  correlation: number | null;
  /** Every pair of channels, LFE left out. */
  correlationPerPair: PairCorrelation[];
}

/** Σlr / √(Σl²·Σr²); `null` where a side is silent. */
export const correlationOf = (cross: number, left: number, right: number): number | null =>
  left > 0 && right > 0 ? Math.max(-1, Math.min(1, cross / Math.sqrt(left * right))) : null;

/** Correlation of every pair over the whole stream. */
export const correlation: MeasurementDefinition<CorrelationFigures> = {
  id: "correlation",
  help: "Correlation of each pair of channels over the whole stretch",
  source: "Pearson's coefficient without removal of the mean",
  create(format) {
    const speakers = format.layout.speakers;
    const used = speakers.flatMap((speaker, index) => (speaker.lfe ? [] : [index]));
    const pairs = used.flatMap((a, i) => used.slice(i + 1).map((b) => [a, b] as const));
    const cross = new Float64Array(pairs.length);
    const power = new Float64Array(speakers.length);
    return {
      process(block, frames) {
        for (const c of used) {
          const x = block[c]!;
          let sum = power[c]!;
          for (let i = 0; i < frames; i++) sum += x[i]! * x[i]!;
          power[c] = sum;
        }
        for (let p = 0; p < pairs.length; p++) {
          const a = block[pairs[p]![0]]!;
          const b = block[pairs[p]![1]]!;
          let sum = cross[p]!;
          for (let i = 0; i < frames; i++) sum += a[i]! * b[i]!;
          cross[p] = sum;
        }
      },
      result() {
        const correlationPerPair = pairs.map(([a, b], p) => ({
          pair: [speakers[a]!.label, speakers[b]!.label] as [string, string],
          correlation: correlationOf(cross[p]!, power[a]!, power[b]!),
        }));
        return {
          correlation: speakers.length === 2 ? (correlationPerPair[0]?.correlation ?? null) : null,
          correlationPerPair,
        };
      },
    };
  },
};
