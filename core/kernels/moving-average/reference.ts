/** The reference implementation, in plain TypeScript: the same bits as the kernel. */
import { exp2 } from "../../math/deterministic-math";

export interface MovingAverage {
  /** How far what comes out lies behind what goes in, in frames. */
  readonly latency: number;
  /** All that it remembers. */
  readonly remembered: readonly Float64Array[];
  /** One or two channels of the same length; what comes out is written to `low`. */
  process(block: readonly Float32Array[], low: readonly Float32Array[]): void;
}

export const PASSES = 4;

const UNIT = exp2(30);

export const latencyOf = (length: number): number => (PASSES * (length - 1)) / 2;

export function referenceMovingAverage(length: number): MovingAverage {
  const share = 1 / length;
  const channels = [0, 1].map(() => ({
    rings: Array.from({ length: PASSES }, () => new Float64Array(length)),
    sums: new Float64Array(PASSES),
  }));
  const place = new Float64Array(1);
  return {
    latency: latencyOf(length),
    remembered: [place, ...channels.flatMap(({ rings, sums }) => [...rings, sums])],
    process(block, low) {
      const next = place[0]!;
      block.forEach((x, c) => {
        const { rings, sums } = channels[c]!;
        x.forEach((v, i) => {
          let value = Math.floor(v * UNIT);
          rings.forEach((ring, pass) => {
            const at = (next + i) % length;
            if (pass > 0) value = Math.floor(value * share);
            sums[pass] = sums[pass]! + (value - ring[at]!);
            ring[at] = value;
            value = sums[pass]!;
          });
          low[c]![i] = value * (share * (1 / UNIT));
        });
      });
      place[0] = (next + block[0]!.length) % length;
    },
  };
}
