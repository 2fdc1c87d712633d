/**
 * The arithmetic of the measurements, over samples in its own memory: K-weighting, block levels, power spectra, true-peak
 * prescan. WebAssembly with SIMD where there is one, else the reference implementation: the same bits.
 */
import { type AnalysisKernels, type AnalysisShape, referenceAnalysis } from "./reference";
import { wasmAnalysis } from "./wasm";
export * from "./reference";
export * from "./wasm";

export const analysisKernels = (shape: AnalysisShape): AnalysisKernels =>
  wasmAnalysis(shape) ?? referenceAnalysis(shape);
