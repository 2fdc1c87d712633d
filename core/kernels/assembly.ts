// AssemblyScript: compiled by `npm run kernels` to one WebAssembly module of raw exports. Each export has a plain
// TypeScript reference implementation that gives the same bits; the tests hold the two against each other.
export { prescanTruePeak, intersampleGrid, interpolateFine } from "./interpolator/assembly";
export { kWeighting, blockLevels, dotProduct, replaceNonFinite } from "./k-weighting/assembly";
export { powerSpectrum, fourierFrame, accumulateSpectrum, closeSpectrumSecond, bandSum } from "./spectrum/assembly";
export { decodePcm } from "./pcm-decoder/assembly";
export { quantise, encodePcm } from "./quantiser/assembly";
export { upsampleHalfBand, splitPhases, downsampleHalfBand } from "./oversampler/assembly";
export { packPairs, unpackPairs, biquadSections, firPairs } from "./biquad-cascade/assembly";
export { smoothGain } from "./gain-smoother/assembly";
export { copyPairs, roundToFloat, maxPowers, meanPowers, addWithGain } from "./linked-multiband/assembly";
export { waveshape } from "./waveshaper/assembly";
export { limiterGains, applyGains, rangeMaxima } from "./limiter-envelope/assembly";
export { movingAverages } from "./moving-average/assembly";
export { interleave, pairPowers, pairGains, addWindowed } from "./two-channel-stft/assembly";
export { cleanPsd, wienerGains } from "./wiener-gain/assembly";
export { binOccupancy, attenuateIsolated } from "./musical-noise-filter/assembly";
export { decimate, subtractInterpolated } from "./decimator/assembly";
export {
  fourierTransform,
  filterSpectrum,
  foldSpectrum,
  polyphaseTake,
  polyphaseInterpolate,
} from "./sample-rate-converter/assembly";
