/**
 * The gain of a look-ahead limiter with programme-dependent release. For each frame the smallest gain that anything
 * within the look-ahead demands is taken; after a peak the gain is back in a moment, but for a share of the mean
 * reduction that grows with it; where the demands of the last four blocks of 25 ms are alike, the sound is steady, and
 * the gain is held. Two moving averages, together no longer than the look-ahead, smooth it: the smoothed gain is never
 * above what a frame demands.
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
