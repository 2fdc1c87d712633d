/**
 * The gain of a look-ahead limiter: for each frame the smallest gain that anything within the window demands is held,
 * released slowly, and smoothed by two moving averages that are together no longer than the look-ahead: the smoothed
 * gain is never above what a frame demands.
 *
 * Gains are whole multiples of 2⁻³⁰, so the moving sums are exact: no drift, no dependence on block sizes, and a
 * gain of exactly 1 where nothing is limited.
 */
import { type LimiterEnvelope, type LimiterEnvelopeSettings, referenceLimiterEnvelope } from "./reference";
import { wasmLimiterEnvelope } from "./wasm";
export * from "./reference";
export * from "./wasm";

export const limiterEnvelope = (settings: LimiterEnvelopeSettings): LimiterEnvelope =>
  wasmLimiterEnvelope(settings) ?? referenceLimiterEnvelope(settings);
