/** Steady tones that were found, and the steps that take them out. */
import { mainsOf, type Tone } from "@core/events/steady-tones";
import { newRepairStep, type RepairStep } from "@core/repair";
import { tonesSchema } from "@core/repair/hum";
import { formatHertz } from "@core/audio/format";

/** A tone nearer to one that is taken away than this is taken away with it. */
const SAME_HERTZ = 2;
/** Hum is taken away up to this harmonic at least, whether its harmonics stand out or not. */
const LEAST_HARMONICS = 12;

export const toneLabel = (tone: Tone, all: readonly Tone[]): string =>
  `${formatHertz(tone.hertz)}${mainsOf(tone, all) === null ? "" : " hum"}`;

/** Whether one of the steps takes a tone away, by itself or as a harmonic of a hum. */
export const isRemoved = ({ hertz }: Tone, repairs: readonly RepairStep[]): boolean =>
  repairs.some((step) => {
    if (step.type === "tones")
      return (tonesSchema.safeParse(step.learned).data ?? []).some((one) => Math.abs(one - hertz) < SAME_HERTZ);
    if (step.type !== "hum") return false;
    const [fundamental, harmonics] = [Number(step.fundamentalHz), Number(step.harmonics)];
    const harmonic = Math.round(hertz / fundamental);
    return harmonic >= 1 && harmonic <= harmonics && Math.abs(hertz - harmonic * fundamental) < SAME_HERTZ;
  });

/** The steps that take tones away: those of the mains as one hum for each mains, the others each by itself. */
export function toneRemovalSteps(tones: readonly Tone[], all: readonly Tone[], newId: () => string): RepairStep[] {
  const hums = new Map<number, number[]>();
  const single: number[] = [];
  for (const tone of tones) {
    const fundamental = mainsOf(tone, all);
    if (fundamental === null) single.push(Number(tone.hertz.toFixed(1)));
    else {
      const known = [...hums.keys()].find((one) => Math.abs(one - fundamental) < 1) ?? fundamental;
      hums.set(known, [...(hums.get(known) ?? []), Math.round(tone.hertz / fundamental)]);
    }
  }
  const steps: RepairStep[] = [...hums].map(([fundamental, harmonics]) => ({
    ...newRepairStep("hum", newId()),
    fundamentalHz: Number(fundamental.toFixed(2)),
    harmonics: Math.max(LEAST_HARMONICS, ...harmonics),
  }));
  if (single.length > 0)
    steps.push({ ...newRepairStep("tones", newId()), learned: [...new Set(single)].sort((a, b) => a - b) });
  return steps;
}
