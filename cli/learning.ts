/** What a recipe asks to be learned from the recording itself: `"learn": { "from": 0.2, "to": 1.8 }` in a repair, in seconds. */
import * as z from "zod";
import type { FrameSource } from "@core/audio/frame-source";
import type { Layout } from "@core/audio/layout";
import type { Planar } from "@core/audio/units";
import { repairProposals } from "@core/delivery/repair-proposals";
import { Measurer } from "@core/measure";
import { repairNamed, type RepairStep } from "@core/repair";
import { learnNoiseProfile } from "@core/repair/noise-profile";
import { noiseProfileQuality } from "@core/repair/noise-profile-quality";
import { repairedSource } from "@core/repair/repaired-source";
import { estimateReverb } from "@core/repair/reverb-estimation";
import { CliProblem } from "./outcome";

const learnSchema = z
  .strictObject({ from: z.number().min(0), to: z.number() })
  .refine(({ from, to }) => to > from, "ends before it begins");
type LearnRange = z.infer<typeof learnSchema>;

type Settings = Record<string, unknown>;

/** What each repair learns from a stretch. @throws CliProblem where the stretch is of no use */
const LEARNERS: Record<string, (block: Planar, sampleRate: number, layout: Layout) => Settings> = {
  noise(block, sampleRate) {
    const { standing, remarks } = noiseProfileQuality([block], sampleRate);
    if (standing === "error") throw new CliProblem(remarks.join(" "));
    return { learned: learnNoiseProfile(block, sampleRate) };
  },
  reverberation(block, sampleRate) {
    const { tail, quality } = estimateReverb(block, sampleRate);
    if (!tail) throw new CliProblem(quality.remarks.join(" "));
    return { ...tail };
  },
  hum: (...stretch) => proposed("hum", "No hum is found in it.", ...stretch),
  clipping: (...stretch) => proposed("clipping", "Nothing is clipped in it.", ...stretch),
};

/** The settings of the firmest proposal for a stretch. */
function proposed(id: string, none: string, block: Planar, sampleRate: number, layout: Layout): Settings {
  const measurer = new Measurer({ sampleRate, layout });
  measurer.process(block);
  const step = repairProposals(measurer.result().figures, null)
    .find((proposal) => proposal.id === id)
    ?.strengths.at(-1)?.step;
  if (!step) throw new CliProblem(none);
  return Object.fromEntries(Object.keys(repairNamed(id).parameters).map((name) => [name, step[name]]));
}

/** A recipe as it is given, and apart from it what its repairs are to learn. @throws CliProblem that names the place */
export function takeLearning(given: unknown, where: string): { recipe: unknown; learn: (LearnRange | undefined)[] } {
  const repairs: unknown = (given as { repairs?: unknown } | null)?.repairs;
  if (!Array.isArray(repairs)) return { recipe: given, learn: [] };
  const learn: (LearnRange | undefined)[] = [];
  const rest = repairs.map((step: unknown, n) => {
    if (typeof step !== "object" || step === null || !("learn" in step)) return step;
    const { learn: asked, ...others } = step;
    const range = learnSchema.safeParse(asked);
    const at = `${where} is not valid: repairs.${n}.learn`;
    if (!range.success) throw new CliProblem(`${at}: ${range.error.issues[0]?.message ?? "not understood"}`);
    const { type } = others as { type?: unknown };
    if (typeof type !== "string" || !Object.hasOwn(LEARNERS, type))
      throw new CliProblem(`${at}: only these learn: ${Object.keys(LEARNERS).join(", ")}`);
    learn[n] = range.data;
    return others;
  });
  return { recipe: { ...(given as object), repairs: rest }, learn };
}

/** Notes in each repair what it is to learn. */
export const withLearning = (repairs: RepairStep[], learn: (LearnRange | undefined)[]): RepairStep[] =>
  repairs.map((step, n) => (learn[n] ? { ...step, learn: learn[n] } : step));

/** The repairs with what they learn from the recording, each as it is after those before. @throws CliProblem */
export async function withLearned(
  repairs: readonly RepairStep[],
  source: FrameSource,
  layout: Layout,
): Promise<RepairStep[]> {
  const all: RepairStep[] = [];
  for (const { learn, ...step } of repairs) {
    if (learn === undefined) {
      all.push(step as RepairStep);
      continue;
    }
    const { from, to } = learn as LearnRange;
    const { sampleRate, frames } = source;
    const [start, end] = [Math.round(from * sampleRate), Math.min(frames, Math.round(to * sampleRate))];
    const where = `${repairNamed(step.type as string).name} cannot learn from ${from} s to ${to} s`;
    if (start >= end) throw new CliProblem(`${where}: the recording lasts ${(frames / sampleRate).toFixed(1)} s.`);
    const block = await repairedSource(source, all, { content: "" }).read(start, end - start);
    try {
      all.push({ ...step, ...LEARNERS[step.type as string]!(block, sampleRate, layout) } as RepairStep);
    } catch (error) {
      throw error instanceof CliProblem ? new CliProblem(`${where}: ${error.message}`) : error;
    }
  }
  return all;
}
