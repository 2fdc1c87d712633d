/** The kernel's binding. */
import { BINS_REACH, FRAMES, type MusicalNoiseFilter, SHARE } from "./reference";
import { loadKernels, MemoryPlan, type MemoryRegion } from "../wasm";

/** Room after a row: what lies around its last bins, and whole vectors. */
const AFTER = 12;

/** By WebAssembly; `undefined` where there is none. */
export function wasmMusicalNoiseFilter(bins: number): MusicalNoiseFilter | undefined {
  const plan = new MemoryPlan();
  const width = BINS_REACH + bins + AFTER;
  const [clean, noise] = [0, 1].map(() => plan.floats(bins + 3)) as [MemoryRegion, MemoryRegion];
  const [sums, threes] = [0, 1].map(() => plan.floats(width)) as [MemoryRegion, MemoryRegion];
  const ring = plan.floats(FRAMES * width + 3 * FRAMES);
  const loaded = loadKernels(plan);
  if (!loaded) return undefined;
  const { kernels, floats } = loaded;
  const [cleanAt, noiseAt, ringAt] = [floats(clean), floats(noise), floats(ring)];
  /** Rows begin at whole vectors. */
  const stride = (width + 3) & ~3;
  let next = 0;
  let steady: Float32Array | undefined;
  const slot = () => {
    const at = next * stride;
    next = (next + 1) % FRAMES;
    return at;
  };
  return {
    begin() {
      ringAt.fill(0);
      next = 0;
    },
    push(row, floor) {
      cleanAt.set(row);
      // A steady noise has one row for all frames.
      if (steady !== floor) noiseAt.set(floor);
      steady = floor;
      kernels.binOccupancy(clean.at, noise.at, bins, ring.at + 4 * (slot() + BINS_REACH));
    },
    pushSilence() {
      const at = slot();
      ringAt.fill(0, at, at + width);
    },
    attenuate(row) {
      cleanAt.set(row);
      kernels.attenuateIsolated(clean.at, bins, ring.at, FRAMES, 4 * stride, SHARE, sums.at, threes.at);
      row.set(cleanAt.subarray(0, bins));
    },
  };
}
