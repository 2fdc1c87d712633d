/** Where clicks are: samples that neither those before nor those after them predict, for a short while, and nothing else around. */
import type { Frames, Hertz, Seconds } from "../audio/units";
import { predictor } from "../dsp/linear-prediction";

export interface Click {
  /** Indices of the first spoilt sample and the one after the last. */
  from: Frames;
  to: Frames;
  /** How far the error stands above what else stands out around, in amplitude. */
  factor: number;
  /** Power of what usually cannot be predicted there. */
  errorPower: number;
}

/** What a kind of click is like, and what it is held against. */
export interface ClickKind {
  /** Beginning and end may lie this far apart and still be one: 0 for sharp clicks, more for those that ring. */
  spread: Seconds;
  /** A click begins and ends where its errors sink below this part of the largest. */
  edge: number;
  /** The predictor is made anew for each stretch of this length. */
  stretch: Seconds;
  /** Errors are compared so far to each side: longer than a period of the deepest voice, each of whose pulses is hard to predict. */
  around: Seconds;
  /** Crests this near to the largest of those around may belong to another click; 0 if clicks come one by one. */
  beside: Seconds;
  /** What stands out around for less than this may be other clicks: many make a crackle, and must not hide each other. */
  narrow: Seconds;
}

export interface ClickSettings {
  /** Stands out from this factor on. */
  threshold: number;
  longest: Frames;
}

const ORDER_AT_48K = 32;
/** Samples next to a click that are taken for spoilt as well, of 48 kHz. */
const GUARD_AT_48K = 2;
/** Errors are compared by their largest in stretches of this length. */
const CREST_SECONDS = 0.001;
/** Power of an error over the square of the third largest crest around it, about. */
const CREST_TO_POWER = 0.3;
const ROUNDS = 3;
/** How much more a click must stand out of crests when those of what may be others are left out. */
const WITHOUT_OTHERS = 2;
/** Below 24 bits there is nothing to hear. */
const LEAST_ERROR = 1e-6;

export const predictionOrder = (rate: Hertz): number =>
  Math.max(16, Math.min(64, Math.round((ORDER_AT_48K * rate) / 48_000)));

/** A predictor for each stretch of `x`; stretches lie at whole multiples of their length from the recording's start. */
export function predictors(
  x: Float64Array,
  first: Frames,
  rate: Hertz,
  stretchSeconds: Seconds,
  skip?: Uint8Array,
): (i: Frames) => Float64Array {
  const length = Math.round(stretchSeconds * rate);
  const order = predictionOrder(rate);
  const firstStretch = Math.floor(first / length);
  const made = new Map<number, Float64Array>();
  return (i) => {
    const stretch = Math.floor((first + i) / length) - firstStretch;
    let a = made.get(stretch);
    if (!a) {
      const start = (firstStretch + stretch) * length - first;
      a = predictor(x, Math.max(0, start - length / 2), Math.min(x.length, start + 1.5 * length), order, skip);
      made.set(stretch, a);
    }
    return a;
  };
}

/** What cannot be predicted at each sample from those before it, and from those after it. */
interface Errors {
  before: Float32Array;
  after: Float32Array;
}

/** Predicts all, or what lies near samples to skip. Hot: twice the order a sample. */
function predict(
  x: Float64Array,
  first: Frames,
  rate: Hertz,
  stretchSeconds: Seconds,
  skip: Uint8Array | undefined,
  { before, after }: Errors,
): void {
  const aOf = predictors(x, first, rate, stretchSeconds, skip);
  const length = Math.round(stretchSeconds * rate);
  for (let start = 0; start < x.length;) {
    const end = Math.min(x.length, start + length - ((((first + start) % length) + length) % length));
    if (!skip || hasAny(skip, start - length, end + length)) {
      const a = aOf(start);
      const order = a.length - 1;
      for (let i = Math.max(order, start); i < Math.min(end, x.length - order); i++) {
        let sumBefore = x[i]!;
        let sumAfter = sumBefore;
        for (let k = 1; k <= order; k++) {
          const c = a[k]!;
          sumBefore += c * x[i - k]!;
          sumAfter += c * x[i + k]!;
        }
        before[i] = Math.abs(sumBefore);
        after[i] = Math.abs(sumAfter);
      }
    }
    start = end;
  }
}

function hasAny(flags: Uint8Array, from: Frames, to: Frames): boolean {
  for (let i = Math.max(0, from); i < Math.min(flags.length, to); i++) if (flags[i]) return true;
  return false;
}

/** The smaller of both errors; with `spread`, of the largest of each so far around. */
function smaller({ before, after }: Errors, spread: Frames): Float32Array {
  const [a, b] = spread > 0 ? [largestAround(before, spread), largestAround(after, spread)] : [before, after];
  const out = new Float32Array(a.length);
  for (let i = 0; i < out.length; i++) out[i] = a[i]! < b[i]! ? a[i]! : b[i]!;
  return out;
}

/**
 * Largest of `x` ≥ 0 within `reach` of each place, by van Herk's method: running maxima over stretches as long as the
 * window, from their left and from their right; each window is the end of one and the beginning of the next.
 */
function largestAround(x: Float32Array, reach: Frames): Float32Array {
  const width = 2 * reach + 1;
  const padded = new Float32Array(Math.ceil((x.length + 2 * reach) / width) * width);
  padded.set(x, reach);
  const fromRight = padded.slice();
  for (let start = 0; start < padded.length; start += width) {
    let largest = 0;
    for (let i = start; i < start + width; i++) padded[i] = largest = padded[i]! > largest ? padded[i]! : largest;
    largest = 0;
    for (let i = start + width - 1; i >= start; i--)
      fromRight[i] = largest = fromRight[i]! > largest ? fromRight[i]! : largest;
  }
  const out = new Float32Array(x.length);
  for (let i = 0; i < x.length; i++) {
    const end = padded[i + width - 1]!;
    const start = fromRight[i]!;
    out[i] = end > start ? end : start;
  }
  return out;
}

/** Errors as they are where nothing was found, and where nothing that was found is predicted from. */
function withoutFound({ before, after }: Errors, found: readonly Click[], order: number): Errors {
  const out = { before: before.slice(), after: after.slice() };
  for (const { from, to } of found) {
    out.before.fill(0, Math.max(0, from), to + order);
    out.after.fill(0, Math.max(0, from - order), to);
  }
  return out;
}

/** Largest error of each millisecond or so; what was found before does not count. */
function crests(errors: Float32Array, length: Frames, skip: Uint8Array | undefined): Float32Array {
  const out = new Float32Array(Math.ceil(errors.length / length));
  for (let block = 0; block < out.length; block++) {
    let largest = 0;
    for (let i = block * length; i < Math.min(errors.length, (block + 1) * length); i++)
      if (errors[i]! > largest && !skip?.[i]) largest = errors[i]!;
    out[block] = largest;
  }
  return out;
}

/** Crests without what stands out of them for less than `width` of them: their morphological opening. */
function openedBy(crests: Float32Array, width: number): Float32Array {
  const out = new Float32Array(crests.length);
  for (let n = 0; n + width <= crests.length; n++) {
    let least = Infinity;
    for (let k = n; k < n + width; k++) if (crests[k]! < least) least = crests[k]!;
    for (let k = n; k < n + width; k++) if (least > out[k]!) out[k] = least;
  }
  return out;
}

/**
 * The third largest crest within reach of `from`…`to`, those inside left out: what also stands out around here. With
 * `beside`, the stretch of that many crests to each side of the largest is left out as well: it may be another click.
 */
function crestAround(
  crests: Float32Array,
  length: Frames,
  reach: number,
  from: Frames,
  to: Frames,
  beside?: number,
): number {
  const [first, last] = [Math.floor(from / length), Math.floor(to / length)];
  const [begin, end] = [Math.max(0, first - reach), Math.min(crests.length - 1, last + reach)];
  let other = -Infinity;
  if (beside !== undefined) {
    let largest = 0;
    for (let n = begin; n <= end; n++)
      if ((n < first || n > last) && crests[n]! > largest) [largest, other] = [crests[n]!, n];
  }
  let [a, b, c] = [0, 0, 0];
  for (let n = begin; n <= end; n++) {
    if ((n >= first && n <= last) || (beside !== undefined && Math.abs(n - other) <= beside)) continue;
    const crest = crests[n]!;
    if (crest > a) [a, b, c] = [crest, a, b];
    else if (crest > b) [b, c] = [crest, b];
    else if (crest > c) c = crest;
  }
  return c;
}

/** Clicks in `x`, whose first sample is frame `first`; in rounds, each without what the one before found. */
export function clicksIn(
  x: Float64Array,
  first: Frames,
  rate: Hertz,
  kind: ClickKind,
  { threshold, longest }: ClickSettings,
): Click[] {
  const spread = Math.round(kind.spread * rate);
  const length = Math.max(1, Math.round(CREST_SECONDS * rate));
  const reach = Math.round(kind.around / CREST_SECONDS);
  const guard = Math.max(1, Math.round((GUARD_AT_48K * rate) / 48_000));
  const errors: Errors = { before: new Float32Array(x.length), after: new Float32Array(x.length) };
  let skip: Uint8Array | undefined;
  let found: Click[] = [];
  for (let round = 0; round < ROUNDS; round++) {
    predict(x, first, rate, kind.stretch, skip, errors);
    const both = smaller(errors, spread);
    const others = skip ? smaller(withoutFound(errors, found, predictionOrder(rate)), spread) : both;
    const crestsHere = crests(others, length, skip);
    const broad = openedBy(crestsHere, Math.round(kind.narrow / CREST_SECONDS));
    /** Crests around; or those without what may be other clicks, counted for more. */
    const usualAround = (from: Frames, to: Frames): number => {
      const usual = Math.min(
        crestAround(crestsHere, length, reach, from, to),
        WITHOUT_OTHERS * crestAround(broad, length, reach, from, to),
      );
      if (kind.beside === 0) return usual;
      const beside = Math.round(kind.beside / CREST_SECONDS);
      return Math.min(usual, WITHOUT_OTHERS * crestAround(crestsHere, length, reach, from, to, beside));
    };
    found = [];
    for (let i = 1; i < x.length - 1; i++) {
      // Crests only, and the first sample of flat ones.
      if (both[i]! <= both[i - 1]! || both[i]! < both[i + 1]! || both[i]! < LEAST_ERROR) continue;
      if (crestsHere[Math.floor(i / length)]! > both[i]!) continue;
      const usual = usualAround(i - spread - 2 * guard, i + spread + 2 * guard);
      if (!(both[i]! > threshold * usual)) continue;
      const edge = Math.max(usual, kind.edge * both[i]!);
      let from = i;
      let to = i + 1;
      const near = spread + 3 * guard;
      const ahead = spread > 0 ? errors.before : both;
      const back = spread > 0 ? errors.after : both;
      for (let j = i - 1; j >= Math.max(0, from - near, i - longest); j--) if (ahead[j]! > edge) from = j;
      for (let j = i + 1; j < Math.min(x.length, to + near, i + longest); j++) if (back[j]! > edge) to = j + 1;
      const around = usualAround(from - spread - guard, to + spread + guard);
      if (to - from < longest && both[i]! > threshold * around)
        found.push({
          from: from - guard,
          to: to + guard,
          factor: both[i]! / Math.max(around, LEAST_ERROR),
          errorPower: around * around * CREST_TO_POWER,
        });
      i = to + guard;
    }
    if (found.length === 0) break;
    skip = new Uint8Array(x.length);
    for (const { from, to } of found) skip.fill(1, from, to);
  }
  return joined(found, guard);
}

/** Clicks that touch are one. */
function joined(clicks: Click[], guard: Frames): Click[] {
  const all: Click[] = [];
  for (const click of clicks) {
    const last = all[all.length - 1];
    if (last && click.from <= last.to + guard) {
      last.to = Math.max(last.to, click.to);
      last.factor = Math.max(last.factor, click.factor);
    } else all.push({ ...click });
  }
  return all;
}
