/**
 * Several moving averages one after another, which together weigh like a bell: a low-pass that does not ring. Samples
 * are rounded to whole multiples of 2⁻³⁰, so that the running sums are exact and depend on nothing but the last samples.
 */
import { type MovingAverage, referenceMovingAverage } from "./reference";
import { wasmMovingAverage } from "./wasm";
export * from "./reference";
export * from "./wasm";

/** @param length of each average, odd */
export const movingAverage = (length: number): MovingAverage =>
  wasmMovingAverage(length) ?? referenceMovingAverage(length);
