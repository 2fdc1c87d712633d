// AssemblyScript: compiled by `npm run kernels` to one WebAssembly module of raw exports. Each export has a plain
// TypeScript twin that gives the same bits; the tests hold the two against each other.
export { scout, intersampleGrid, fineDot } from "./interpolate";
export { weigh, levels, dot, clean } from "./k-weighting";
export { powerSpectrum, transform, gather, closeSecond, bandSum } from "./spectrum";
export { decode } from "./decode";
export { quantise, encode } from "./quantiser";
export { raise, part, lower } from "./half-band";
export { pair, unpair, sections, shortFir } from "./biquad-cascade";
export { follow } from "./gain-smoother";
export { copyPairs, round, louderPowers, meanPowers, addGained } from "./linked-multiband";
export { bend } from "./waveshaper";
export { limitGains, applyGains, stretchMaxima } from "./limiter-envelope";
export { movingMeans } from "./moving-average";
export { interleave, pairPowers, pairGains, addWindowed } from "./two-channel-stft";
export { wantedLeft, wantedGains } from "./wiener-gain";
export { companyFilled, companyWeaken } from "./musical-noise-filter";
export { thin, takeAway } from "./decimator";
export { fourier, filterSpectrum, foldSpectrum, take, between } from "./sample-rate-converter";
