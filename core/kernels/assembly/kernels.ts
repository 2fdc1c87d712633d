// AssemblyScript: compiled by `npm run kernels` to one WebAssembly module of raw exports. Each export has a plain
// TypeScript twin that gives the same bits; the tests hold the two against each other.
export { scout, intersampleGrid, fineDot } from "./interpolate";
export { weigh, levels, dot, clean } from "./weigh";
export { powerSpectrum, transform, gather, closeSecond, bandSum } from "./spectrum";
export { decode } from "./decode";
export { quantise, encode } from "./quantise";
export { raise, part, lower } from "./half-band";
export { pair, unpair, sections, shortFir } from "./sections";
export { follow } from "./follow";
export { copyPairs, round, louderPowers, meanPowers, addGained } from "./bands";
export { bend } from "./bend";
export { limitGains, applyGains, stretchMaxima } from "./limit";
export { movingMeans } from "./moving-mean";
export { interleave, pairPowers, pairGains, addWindowed } from "./pair-frames";
export { wantedLeft, wantedGains } from "./wanted";
export { companyFilled, companyWeaken } from "./company";
export { thin, takeAway } from "./decimate";
export { fourier, filterSpectrum, foldSpectrum, take, between } from "./rate";
