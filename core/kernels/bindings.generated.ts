// Made by "npm run kernels" from assembly.ts. Addresses and strides are in bytes.
export interface Kernels {
  // ./interpolator/assembly.ts
  prescanTruePeak(x: number, groups: number, taps: number, quiet: number, out: number): void;
  intersampleGrid(x: number, count: number, taps: number, out: number, stride: number): number;
  interpolateFine(x: number, filter: number): number;
  // ./k-weighting/assembly.ts
  kWeighting(
    a: number,
    b: number,
    count: number,
    coefficients: number,
    state: number,
    crossed: boolean,
    out: number,
  ): void;
  blockLevels(x: number, count: number, out: number): void;
  dotProduct(a: number, b: number, count: number): number;
  replaceNonFinite(x: number, count: number): number;
  // ./spectrum/assembly.ts
  powerSpectrum(x: number, window: number, m: number, work: number, twiddles: number, power: number): void;
  fourierFrame(x: number, window: number, m: number, work: number, twiddles: number): number;
  accumulateSpectrum(power: number, count: number, second: number, largest: number): void;
  closeSpectrumSecond(second: number, count: number, whole: boolean, sum: number, floor: number): void;
  bandSum(power: number, count: number): number;
  // ./pcm-decoder/assembly.ts
  decodePcm(bytes: number, size: number, stride: number, frames: number, out: number): void;
  // ./quantiser/assembly.ts
  quantise(x: number, frames: number, scale: number, dithered: number, state: number, out: number): void;
  encodePcm(x: number, frames: number, bytes: number, stride: number, out: number): void;
  // ./oversampler/assembly.ts
  upsampleHalfBand(x: number, frames: number, taps: number, pairs: number, out: number): void;
  splitPhases(x: number, frames: number, even: number, odd: number): void;
  downsampleHalfBand(even: number, odd: number, frames: number, taps: number, pairs: number, out: number): void;
  // ./biquad-cascade/assembly.ts
  packPairs(a: number, b: number, frames: number, work: number): void;
  unpackPairs(work: number, frames: number, a: number, b: number): void;
  biquadSections(
    work: number,
    frames: number,
    coefficients: number,
    states: number,
    history: number,
    count: number,
  ): void;
  firPairs(work: number, frames: number, fir: number, taps: number): void;
  // ./gain-smoother/assembly.ts
  smoothGain(values: number, frames: number, settings: number, state: number, groups: number): void;
  // ./linked-multiband/assembly.ts
  copyPairs(from: number, frames: number, to: number): void;
  roundToFloat(work: number, frames: number): void;
  maxPowers(work: number, frames: number, powers: number): void;
  meanPowers(powers: number, frames: number, share: number, state: number): void;
  addWithGain(sum: number, work: number, gains: number, frames: number): void;
  // ./waveshaper/assembly.ts
  waveshape(x: number, frames: number, drive: number, bias: number, offset: number, scale: number): void;
  // ./limiter-envelope/assembly.ts
  limiterGains(
    values: number,
    frames: number,
    settings: number,
    state: number,
    stretch: number,
    rest: number,
    first: number,
    second: number,
  ): void;
  applyGains(x: number, frames: number, gains: number): void;
  rangeMaxima(x: number, frames: number, length: number, largest: number, bends: number): void;
  // ./moving-average/assembly.ts
  movingAverages(
    work: number,
    frames: number,
    rings: number,
    sums: number,
    next: number,
    length: number,
    passes: number,
  ): number;
  // ./two-channel-stft/assembly.ts
  interleave(a: number, b: number, n: number, out: number): void;
  pairPowers(re: number, im: number, n: number, a: number, b: number): void;
  pairGains(re: number, im: number, n: number, a: number, b: number): void;
  addWindowed(a: number, b: number, n: number, window: number, sumA: number, sumB: number): void;
  // ./wiener-gain/assembly.ts
  cleanPsd(
    power: number,
    noise: number,
    bins: number,
    memory: number,
    fresh: number,
    leastRatio: number,
    before: number,
    clean: number,
    joined: boolean,
  ): void;
  wienerGains(
    earlier: number,
    clean: number,
    later: number,
    bins: number,
    noise: number,
    least: number,
    sums: number,
    gains: number,
  ): void;
  // ./musical-noise-filter/assembly.ts
  binOccupancy(clean: number, noise: number, bins: number, filled: number): void;
  attenuateIsolated(
    clean: number,
    bins: number,
    ring: number,
    frames: number,
    stride: number,
    share: number,
    sums: number,
    threes: number,
  ): void;
  // ./decimator/assembly.ts
  decimate(x: number, count: number, factor: number, taps: number, length: number, out: number): void;
  subtractInterpolated(
    y: number,
    count: number,
    factor: number,
    taps: number,
    points: number,
    width: number,
    x: number,
  ): void;
  // ./sample-rate-converter/assembly.ts
  fourierTransform(re: number, im: number, n: number, spare: number, twiddles: number): void;
  filterSpectrum(
    re: number,
    im: number,
    n: number,
    filterRe: number,
    filterIm: number,
    count: number,
    outRe: number,
    outIm: number,
  ): void;
  foldSpectrum(re: number, im: number, n: number, parts: number): void;
  polyphaseTake(x: number, step: number, count: number, out: number): void;
  polyphaseInterpolate(
    x: number,
    position: number,
    up: number,
    down: number,
    filters: number,
    taps: number,
    count: number,
    out: number,
  ): void;
}
