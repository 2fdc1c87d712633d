/** The kernel's binding. */
import { FRESH, LEAST_RATIO, MEMORY, type WienerGain } from "./reference";
import { loadKernels, MemoryPlan } from "../wasm";

/** By WebAssembly; `undefined` where there is none. */
export function wasmWienerGain(bins: number): WienerGain | undefined {
  const plan = new MemoryPlan();
  const [power, noise, least, before, out] = [0, 1, 2, 3, 4].map(() => plan.floats(bins + 3));
  const [earlier, clean, later] = [0, 1, 2].map(() => plan.floats(bins + 3));
  const sums = plan.floats(bins + 5);
  const loaded = loadKernels(plan);
  if (!loaded) return undefined;
  const { kernels, floats } = loaded;
  const rows = { power, noise, least, before, out, earlier, clean, later };
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
    cleanPsd(row, floor, into, joined) {
      copy("power", row);
      put("noise", floor);
      if (joined) copy("clean", into);
      const addresses = [before!.at, clean!.at] as const;
      kernels.cleanPsd(power!.at, noise!.at, bins, MEMORY, FRESH, LEAST_RATIO, ...addresses, joined);
      into.set(at["clean"]!.subarray(0, bins));
    },
    gains(cleanPsds, floor, lowest, into) {
      for (const name of ["earlier", "clean", "later"] as const) copy(name, cleanPsds[name]);
      put("noise", floor);
      put("least", lowest);
      kernels.wienerGains(earlier!.at, clean!.at, later!.at, bins, noise!.at, least!.at, sums.at, out!.at);
      into.set(at["out"]!.subarray(0, bins));
    },
  };
}
