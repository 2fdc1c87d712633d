/**
 * Windowed-sinc interpolation between samples, at 4× over a scan and at 16× at single points. WebAssembly with SIMD where
 * there is one, else the reference implementation: the same bits.
 */
export * from "./reference";
export * from "./wasm";
