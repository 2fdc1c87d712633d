/** The reference implementation of K-weighting and block levels: the operations of the kernel in the same order. */

const f = Math.fround;
const SMALLEST = 1e-30;
const DOT_RUN = 64;

/** K-weights one hop of one channel; `state` holds four numbers. The weighted samples go to `out`. */
export function referenceKWeighting(
  x: Float32Array,
  from: number,
  count: number,
  coefficients: Float64Array,
  state: Float64Array,
  out: Float64Array,
): void {
  const [s0 = 0, s1 = 0, s2 = 0, s3 = 0, s4 = 0, h0 = 0, h1 = 0, h2 = 0, h3 = 0, h4 = 0] = coefficients;
  let [p1, p2, q1, q2] = [state[0]!, state[1]!, state[2]!, state[3]!];
  for (let i = 0; i < count; i++) {
    const v = x[from + i]!;
    const y = s0 * v + p1;
    const next1 = s3 * p1 + (p2 + s1 * v);
    p2 = s4 * p1 + s2 * v;
    p1 = next1;
    out[i] = h0 * y + q1;
    const following1 = h3 * q1 + (q2 + h1 * y);
    q2 = h4 * q1 + h2 * y;
    q1 = following1;
  }
  state.set([p1, p2, q1, q2].map((v) => (Math.abs(v) >= SMALLEST ? v : 0)));
}

const sumOfLanes = (lanes: number[]): number => lanes[0]! + lanes[1]! + (lanes[2]! + lanes[3]!);

/** Σx², Σx, smallest and largest sample of a hop. */
export function referenceLevels(x: Float32Array, from: number, count: number, out: Float64Array): void {
  const energies = [0, 0, 0, 0];
  const sums = [0, 0, 0, 0];
  let smallest = Infinity;
  let largest = -Infinity;
  const whole = count - (count % 4);
  for (let i = 0; i < count; i++) {
    const v = x[from + i]!;
    if (v < smallest) smallest = v;
    if (v > largest) largest = v;
    if (i >= whole) continue;
    energies[i & 3] = f(energies[i & 3]! + f(v * v));
    sums[i & 3] = f(sums[i & 3]! + v);
  }
  let energy = sumOfLanes(energies);
  let sum = sumOfLanes(sums);
  for (let i = whole; i < count; i++) {
    const v = x[from + i]!;
    energy += v * v;
    sum += v;
  }
  out[0] = energy;
  out[1] = sum;
  out[2] = smallest;
  out[3] = largest;
}

export function referenceDot(a: Float32Array, b: Float32Array, from: number, count: number): number {
  let total = 0;
  let i = 0;
  for (; i + DOT_RUN <= count; i += DOT_RUN) {
    const even = [0, 0, 0, 0];
    const odd = [0, 0, 0, 0];
    for (let k = 0; k < DOT_RUN; k++) {
      const lanes = k & 4 ? odd : even;
      lanes[k & 3] = f(lanes[k & 3]! + f(a[from + i + k]! * b[from + i + k]!));
    }
    total += sumOfLanes(even.map((v, lane) => f(v + odd[lane]!)));
  }
  for (; i < count; i++) total += a[from + i]! * b[from + i]!;
  return total;
}

/** Puts 0 in the place of NaN and infinities. @returns how many there were */
export function referenceClean(x: Float32Array, from: number, count: number): number {
  let found = 0;
  for (let i = from; i < from + count; i++) {
    const v = x[i]!;
    if (v - v !== 0) {
      x[i] = 0;
      found++;
    }
  }
  return found;
}
