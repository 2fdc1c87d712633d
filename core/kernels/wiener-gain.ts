/**
 * Frame by frame, how much of each bin is wanted sound: what two passes of a Wiener filter leave, and gains by it. In
 * float32, by WebAssembly, or its plain twin; the same bits.
 */
import { loadKernels, MemoryPlan } from "./wasm";

/** Rows have the shape [bins]. */
export interface WienerGain {
  /** Begins a pass: the frame before counts for as much as the first one itself. */
  begin(power: Float32Array, noise: Float32Array): void;
  /** What is left of the next frame goes to `pilot`, or where `joined` its geometric mean with what was there. */
  left(power: Float32Array, noise: Float32Array, pilot: Float32Array, joined: boolean): void;
  /** Gains, at least `least`, by three frames' pilots. */
  gains(pilots: CleanPsdRows, noise: Float32Array, least: Float32Array, out: Float32Array): void;
}

export interface CleanPsdRows {
  earlier: Float32Array;
  pilot: Float32Array;
  later: Float32Array;
}

/** Weight of the frame before in the a-priori ratio, for hops of a quarter frame of 43 ms. */
const MEMORY = Math.fround(0.92);
const FRESH = Math.fround(1 - 0.92);
/** The a-priori ratio is not taken for lower: −30 dB. */
const LEAST_RATIO = Math.fround(1e-3);

export const wienerGain = (bins: number): WienerGain => wasmWienerGain(bins) ?? referenceWienerGain(bins);

/** By WebAssembly; `undefined` where there is none. */
export function wasmWienerGain(bins: number): WienerGain | undefined {
  const plan = new MemoryPlan();
  const [power, noise, least, before, out] = [0, 1, 2, 3, 4].map(() => plan.floats(bins + 3));
  const [earlier, pilot, later] = [0, 1, 2].map(() => plan.floats(bins + 3));
  const sums = plan.floats(bins + 5);
  const loaded = loadKernels(plan);
  if (!loaded) return undefined;
  const { kernels, floats } = loaded;
  const rows = { power, noise, least, before, out, earlier, pilot, later };
  const at = Object.fromEntries(Object.entries(rows).map(([name, region]) => [name, floats(region!)]));
  // Rows that stay are put in once.
  const inPlace: Record<string, Float32Array> = {};
  const put = (name: keyof typeof rows, row: Float32Array) => {
    if (inPlace[name] === row) return;
    at[name]!.set(row);
    inPlace[name] = row;
  };
  const copy = (name: keyof typeof rows, row: Float32Array) => at[name]!.set(row);
  return {
    begin(first, floor) {
      for (let k = 0; k < bins; k++) at["before"]![k] = Math.max(0, first[k]! - floor[k]!);
    },
    left(row, floor, into, joined) {
      copy("power", row);
      put("noise", floor);
      if (joined) copy("pilot", into);
      const addresses = [before!.at, pilot!.at] as const;
      kernels.wantedLeft(power!.at, noise!.at, bins, MEMORY, FRESH, LEAST_RATIO, ...addresses, joined);
      into.set(at["pilot"]!.subarray(0, bins));
    },
    gains(pilots, floor, lowest, into) {
      for (const name of ["earlier", "pilot", "later"] as const) copy(name, pilots[name]);
      put("noise", floor);
      put("least", lowest);
      kernels.wantedGains(earlier!.at, pilot!.at, later!.at, bins, noise!.at, least!.at, sums.at, out!.at);
      into.set(at["out"]!.subarray(0, bins));
    },
  };
}

export function referenceWienerGain(bins: number): WienerGain {
  const { fround } = Math;
  const before = new Float32Array(bins);
  return {
    begin(first, floor) {
      for (let k = 0; k < bins; k++) before[k] = Math.max(0, first[k]! - floor[k]!);
    },
    left(row, floor, into, joined) {
      for (let k = 0; k < bins; k++) {
        const instant = Math.max(fround(row[k]! - floor[k]!), 0);
        const mixed = fround(fround(MEMORY * before[k]!) + fround(FRESH * instant));
        const wanted = Math.max(mixed, fround(LEAST_RATIO * floor[k]!));
        const sum = fround(wanted + floor[k]!);
        const gain = sum > 0 ? fround(wanted / sum) : 1;
        const left = fround(fround(gain * gain) * row[k]!);
        before[k] = left;
        into[k] = joined ? Math.sqrt(fround(left * into[k]!)) : left;
      }
    },
    gains({ earlier, pilot, later }, floor, lowest, into) {
      const sums = pilot.map((v, k) => fround(fround(2 * v) + earlier[k]!) + later[k]!);
      for (let k = 0; k < bins; k++) {
        const inner = fround(fround(2 * sums[k]!) + sums[Math.max(0, k - 1)]!);
        const power = fround(fround(inner + sums[Math.min(bins - 1, k + 1)]!) * 0.0625);
        const gain = fround(power / fround(power + floor[k]!));
        into[k] = gain > lowest[k]! ? gain : lowest[k]!;
      }
    },
  };
}
