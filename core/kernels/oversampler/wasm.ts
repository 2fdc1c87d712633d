/** The kernel's binding. */
import { exp2 } from "../../math/deterministic-math";
import { type Addition, delays, type Oversampler, type Steps } from "./reference";
import { loadKernels, MemoryPlan } from "../wasm";

/** The most frames that are worked on at once. */
const CHUNK = 1024;

/** Worked on together by the kernels. */
const LANES = 8;

const FLOAT = 4;

const whole = (count: number): number => Math.ceil(count / LANES) * LANES;

/** By WebAssembly; `undefined` where there is none. */
export function wasmOversampler(steps: Steps, addition: Addition): Oversampler | undefined {
  const { latency, pads } = delays(steps);
  const plan = new MemoryPlan();
  const places = steps.map((taps, step) => {
    const line = 2 * taps.length - 1 + CHUNK * exp2(step);
    return { taps: plan.floats(taps.length), up: plan.floats(line), even: plan.floats(line), odd: plan.floats(line) };
  });
  const wide = plan.floats(CHUNK * exp2(steps.length) + 1);
  const loaded = loadKernels(plan);
  if (!loaded) return undefined;
  const { kernels, floats } = loaded;
  const top = floats(wide);
  const held = new Float32Array(steps.length);
  const filters = steps.map((taps, step) => {
    const { taps: tapsAt, up, even, odd } = places[step]!;
    floats(tapsAt).set(taps);
    const past = 2 * taps.length - 1;
    return {
      ...{ past, pad: pads[step]!, taps: tapsAt.at, pairs: taps.length },
      ...{ up: up.at, even: even.at, odd: odd.at, fresh: past * FLOAT },
      lines: { up: floats(up), even: floats(even), odd: floats(odd) },
    };
  });

  const raise = (count: number, step: number) => {
    const { up, lines, taps, pairs, past } = filters[step]!;
    const next = filters[step + 1];
    kernels.upsampleHalfBand(up, whole(count), taps, pairs, next ? next.up + next.fresh : wide.at);
    lines.up.copyWithin(0, count, count + past);
  };
  /** From `wide` to `wide`; what comes out leaves room in front for what the next step down has held back. */
  const lower = (count: number, step: number) => {
    const { even, odd, fresh, lines, taps, pairs, past, pad } = filters[step]!;
    if (pad) {
      top[0] = held[step]!;
      held[step] = top[2 * count]!;
    }
    kernels.splitPhases(wide.at, whole(count), even + fresh, odd + fresh);
    kernels.downsampleHalfBand(even, odd, whole(count), taps, pairs, wide.at + (filters[step - 1]?.pad ? FLOAT : 0));
    lines.even.copyWithin(0, count, count + past);
    lines.odd.copyWithin(0, count, count + past);
  };
  return {
    latency,
    remembered: [held, ...filters.flatMap(({ lines, past }) => Object.values(lines).map((x) => x.subarray(0, past)))],
    process(x) {
      for (let at = 0; at < x.length; at += CHUNK) {
        const count = Math.min(CHUNK, x.length - at);
        const { lines, past } = filters[0]!;
        lines.up.set(x.subarray(at, at + count), past);
        for (let step = 0; step < steps.length; step++) raise(count << step, step);
        const raised = count << steps.length;
        if (addition.kernel) addition.kernel(kernels, wide.at, whole(raised));
        else addition.reference(top.subarray(0, raised));
        for (let step = steps.length - 1; step >= 0; step--) lower(count << step, step);
        x.set(top.subarray(0, count), at);
      }
    },
  };
}
