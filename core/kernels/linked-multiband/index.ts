/**
 * A multiband compressor of one or two channels that share each band's gain, all within the kernels' memory. Gives the
 * same bits as a crossover, level detectors and followers one after the other, which serve where there is no
 * WebAssembly and where channels have gains of their own.
 */
export * from "./reference";
export * from "./wasm";
