/** The reference implementation, in plain TypeScript: the same bits as the kernel. */
export interface TwoChannelCascade {
  readonly passed: Passed;
  /** Goes on from what passed another one of as many sections: as if its own coefficients had been there all along. */
  goOnFrom(passed: Passed): void;
  /** Two channels of the same length, in place; `b` may be missing. */
  process(a: Float32Array, b: Float32Array | undefined): void;
}

/** What passed a cascade; two channels side by side. */
interface Passed {
  sections: readonly Biquad[];
  /** Of each section both states. */
  states: Float64Array;
  /** Of each section the last two inputs and outputs, newest first. */
  history: Float64Array;
  /** The last inputs of the FIR filter, newest last. */
  past: Float64Array;
}

/** The most frames that are worked on at once; states are looked at for what is too small at each of them. */
export const CHUNK = 1024;

const SMALLEST = 1e-30;

const stateSpace = ([b0, b1, b2, a1, a2]: Biquad) => [b0, b1 - a1 * b0, b2 - a2 * b0, -a1, -a2] as const;

export const splatted = (values: readonly number[]) => values.flatMap((value) => [value, value]);

/** Coefficients of sections as the kernel takes them, for two channels side by side. */
export const splattedBiquads = (sections: readonly Biquad[]): readonly number[] =>
  sections.flatMap((section) => splatted(stateSpace(section)));

export function referenceCascade(list: readonly Biquad[], fir: Float64Array): TwoChannelCascade {
  const coefficients = list.map(stateSpace);
  const channels = [0, 1].map(() => ({
    states: new Float64Array(2 * list.length),
    history: new Float64Array(4 * list.length),
    past: new Float64Array(fir.length - 1),
  }));
  const run = (x: Float32Array, { states, history, past }: (typeof channels)[number]) => {
    const work = Float64Array.from(x);
    const last = work.length - 1;
    coefficients.forEach(([c0, c1, c2, c3, c4], n) => {
      history[4 * n + 1] = last > 0 ? work[last - 1]! : history[4 * n]!;
      history[4 * n] = work[last]!;
      let [s1, s2] = [states[2 * n]!, states[2 * n + 1]!];
      for (let i = 0; i < work.length; i++) {
        const v = work[i]!;
        work[i] = c0 * v + s1;
        const next = c3 * s1 + (s2 + c1 * v);
        s2 = c4 * s1 + c2 * v;
        s1 = next;
      }
      history[4 * n + 3] = last > 0 ? work[last - 1]! : history[4 * n + 2]!;
      history[4 * n + 2] = work[last]!;
      states[2 * n] = Math.abs(s1) >= SMALLEST ? s1 : 0;
      states[2 * n + 1] = Math.abs(s2) >= SMALLEST ? s2 : 0;
    });
    const line = new Float64Array(past.length + work.length);
    line.set(past);
    line.set(work, past.length);
    past.set(line.subarray(work.length));
    for (let i = 0; i < work.length; i++) {
      let sum = fir[0]! * work[i]!;
      for (let k = 1; k < fir.length; k++) sum += fir[k]! * line[past.length + i - k]!;
      x[i] = sum;
    }
  };
  const paired = (of: (one: (typeof channels)[number]) => Float64Array) => {
    const [first, second] = channels.map(of);
    return Float64Array.from({ length: 2 * first!.length }, (_, i) => (i % 2 === 0 ? first : second)![i >> 1]!);
  };
  return {
    get passed() {
      return {
        sections: list,
        states: paired(({ states }) => states),
        history: paired(({ history }) => history),
        past: paired(({ past }) => past),
      };
    },
    goOnFrom(passed) {
      const { history, past } = passed;
      const states = statesAfter(list, passed);
      const newer = alignedPast(past, 2 * (fir.length - 1));
      channels.forEach((channel, c) => {
        channel.states.forEach((_, i) => (channel.states[i] = states[2 * i + c]!));
        channel.history.forEach((_, i) => (channel.history[i] = history[2 * i + c] ?? 0));
        channel.past.forEach((_, i) => (channel.past[i] = newer[2 * i + c]!));
      });
    },
    process(a, b) {
      for (let at = 0; at < a.length; at += CHUNK) {
        run(a.subarray(at, at + CHUNK), channels[0]!);
        if (b) run(b.subarray(at, at + CHUNK), channels[1]!);
      }
    },
  };
}

/**
 * States of sections after what passed others: s2 = b2·x₁ − a2·y₁, s1 = b1·x₁ − a1·y₁ + b2·x₂ − a2·y₂. Where a section
 * is the same, its states are, to the bit.
 */
export function statesAfter(list: readonly Biquad[], { sections, states: before, history }: Passed): Float64Array {
  const states = new Float64Array(4 * list.length);
  list.forEach((section, n) => {
    if (sections[n]?.every((coefficient, i) => coefficient === section[i]))
      return states.set(before.subarray(4 * n, 4 * n + 4), 4 * n);
    const [, b1, b2, a1, a2] = section;
    for (const c of [0, 1]) {
      const at = (k: number) => history[8 * n + 2 * k + c] ?? 0;
      states[4 * n + c] = b1 * at(0) - a1 * at(2) + b2 * at(1) - a2 * at(3);
      states[4 * n + 2 + c] = b2 * at(0) - a2 * at(2);
    }
  });
  return states;
}

/** The newest `length` of what passed; nothing before it. */
export function alignedPast(past: Float64Array, length: number): Float64Array {
  const aligned = new Float64Array(length);
  const shared = Math.min(length, past.length);
  aligned.set(past.subarray(past.length - shared), length - shared);
  return aligned;
}

/** b0, b1, b2, a1, a2 with a0 = 1. */
export type Biquad = readonly [number, number, number, number, number];
