/** The kernel's binding. */
import { type Biquad, splattedBiquads } from "../biquad-cascade";
import type { LinkedBand, LinkedMultiband } from "./reference";
import { loadKernels, MemoryPlan } from "../wasm";
import { SETTINGS_SIZE, settingsInOrder, STATE_SIZE, stateInOrder, stateOf } from "../gain-smoother";

/** The most frames that are worked on at once, as in a cascade of sections: states are cleaned at the same places. */
const CHUNK = 1024;

const PAIR = 16;

/**
 * @param corners for each corner, from low to high, the sections of what lies below and of what lies above
 * @param bands   one more than corners
 */
export function linkedMultiband(
  corners: readonly { low: readonly Biquad[]; high: readonly Biquad[] }[],
  bands: readonly LinkedBand[],
): LinkedMultiband | undefined {
  const plan = new MemoryPlan();
  const [aAt, bAt] = [plan.floats(CHUNK), plan.floats(CHUNK)];
  const [rest, band, sum] = [0, 1, 2].map(() => plan.take(PAIR * CHUNK)) as [Place, Place, Place];
  const [powers, groups] = [plan.doubles(CHUNK), plan.doubles(CHUNK + 1)];
  const filters = corners.map(({ low, high }) =>
    [low, high].map((sections) => ({
      sections,
      coefficients: plan.doubles(10 * sections.length),
      states: plan.doubles(4 * sections.length),
      history: plan.doubles(8 * sections.length),
    })),
  );
  const places = bands.map(() => ({
    mean: plan.doubles(1),
    settings: plan.doubles(SETTINGS_SIZE),
    state: plan.doubles(STATE_SIZE),
  }));
  const loaded = loadKernels(plan);
  if (!loaded) return undefined;
  const { kernels, floats, doubles } = loaded;
  const [first, second, total] = [floats(aAt), floats(bAt), doubles(sum)];
  for (const one of filters.flat()) doubles(one.coefficients).set(splattedBiquads(one.sections));
  bands.forEach(({ settings, curve, rest }, n) =>
    doubles(places[n]!.settings).set(settingsInOrder(settings, curve, rest)),
  );
  const states = places.map(({ state }) => doubles(state));

  const filter = (at: number, count: number, corner: number, side: number) => {
    const { sections, coefficients, states, history } = filters[corner]![side]!;
    kernels.biquadSections(at, count, coefficients.at, states.at, history.at, sections.length);
  };
  const addBand = (n: number, at: number, count: number) => {
    const { mean, settings, state } = places[n]!;
    const { heard, meanShare } = bands[n]!;
    kernels.maxPowers(at, count, powers.at);
    kernels.meanPowers(powers.at, count, meanShare, mean.at);
    kernels.smoothGain(powers.at, count, settings.at, state.at, groups.at);
    if (heard) kernels.addWithGain(sum.at, at, powers.at, count);
  };
  return {
    process(a, b) {
      bands.forEach(({ state }, n) => states[n]!.set(stateInOrder(state)));
      for (let at = 0; at < a.length; at += CHUNK) {
        const count = Math.min(CHUNK, a.length - at);
        first.set(a.subarray(at, at + count));
        if (b) second.set(b.subarray(at, at + count));
        kernels.packPairs(aAt.at, bAt.at, count, rest.at);
        total.fill(0, 0, 2 * count);
        corners.forEach((_, corner) => {
          kernels.copyPairs(rest.at, count, band.at);
          filter(band.at, count, corner, 0);
          filter(rest.at, count, corner, 1);
          addBand(corner, band.at, count);
          kernels.roundToFloat(rest.at, count);
        });
        addBand(corners.length, rest.at, count);
        kernels.unpackPairs(sum.at, count, aAt.at, bAt.at);
        a.set(first.subarray(0, count), at);
        if (b) b.set(second.subarray(0, count), at);
      }
      bands.forEach(({ state }, n) => Object.assign(state, stateOf(states[n]!)));
    },
  };
}

type Place = ReturnType<MemoryPlan["take"]>;
