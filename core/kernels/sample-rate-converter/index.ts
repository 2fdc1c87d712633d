/**
 * Sample-rate conversion of two channels: an overlap-save filter in float64, at a rate that is raised or lowered by a power
 * of two on the way, then a short polyphase interpolator. WebAssembly where there is one, else the reference
 * implementation: the same bits.
 */
import { referenceSampleRateConverter, type SampleRateConverter, type SampleRateConverterPlan } from "./reference";
import { wasmSampleRateConverter } from "./wasm";
export * from "./reference";
export * from "./wasm";

export const sampleRateConverter = (plan: SampleRateConverterPlan): SampleRateConverter =>
  wasmSampleRateConverter(plan) ?? referenceSampleRateConverter(plan);
