import * as z from "zod";
import { withCurrentNames, type FormerNames } from "../parameters/former-names";
import { defaultsOf, parameterShape, settingsFrom, type Parameters, type SettingsOf } from "../parameters/parameter";
import { clicks, mouthNoise } from "./clicks";
import { clipping } from "./clipping";
import { gainEnvelopeRepair } from "./gain-envelope";
import { hum, tones } from "./hum";
import { regionGain } from "./region-gain";
import { noise } from "./noise";
import { spectralInpainting } from "./spectral-inpainting";
import { reverberation } from "./reverberation";
import { channelRepair } from "./channel-repair";
import { spikes } from "./spikes";
import { speechDenoise } from "./speech-denoise";
import { voiceCleanUp } from "./voice-clean-up";
import type { Hertz } from "../audio/units";
import type { RepairDefinition } from "./repair";
import { regionSchema, type Region } from "./time-frequency-region";

const erase = <P extends Parameters>(definition: RepairDefinition<P>): RepairDefinition => ({
  ...definition,
  // Settings reach a definition only through its own schema, so the wider type is safe here and nowhere else.
  contextSeconds: (settings, learned) => definition.contextSeconds(settings as SettingsOf<P>, learned),
  ...(definition.edges ? { edges: (settings) => definition.edges!(settings as SettingsOf<P>) } : {}),
  isNeutral: (settings, learned) => definition.isNeutral(settings as SettingsOf<P>, learned),
  create: (settings, learned, format) => definition.create(settings as SettingsOf<P>, learned, format),
  ...(definition.find
    ? { find: (settings, learned, format) => definition.find!(settings as SettingsOf<P>, learned, format) }
    : {}),
  ...(definition.prepare ? { prepare: () => definition.prepare!() } : {}),
  summary: (settings, learned) => definition.summary(settings as SettingsOf<P>, learned),
});

/** Every repair. A new one: its file, and a word here. */
export const REPAIRS: readonly RepairDefinition[] = [
  erase(voiceCleanUp),
  erase(noise),
  erase(speechDenoise),
  erase(hum),
  erase(tones),
  erase(clicks),
  erase(mouthNoise),
  erase(clipping),
  erase(reverberation),
  erase(spikes),
  erase(regionGain),
  erase(gainEnvelopeRepair),
  erase(spectralInpainting),
  erase(channelRepair),
];

export function repairNamed(id: string): RepairDefinition {
  const found = REPAIRS.find((definition) => definition.id === id);
  if (!found) throw new Error(`There is no repair "${id}"; there are: ${REPAIRS.map((r) => r.id).join(", ")}.`);
  return found;
}

/** One repair on an item: what, where, and its settings, flat, like an entry of a chain. */
export interface RepairStep extends Record<string, unknown> {
  type: string;
  id?: string | undefined;
  enabled: boolean;
  /** Where it applies; nothing for the whole. */
  regions: Region[];
  /** Places within that are left alone. */
  excludedRegions: Region[];
  learned?: unknown;
}

const stepSchema = (definition: RepairDefinition) =>
  z.strictObject({
    type: z.literal(definition.id),
    /** Names the step within its item; the application gives one, a hand-written recipe need not. */
    id: z.string().min(1).max(64).optional(),
    enabled: z.boolean().default(true),
    regions: z.array(regionSchema).max(2000).default([]),
    excludedRegions: z.array(regionSchema).max(2000).default([]),
    ...(definition.learned ? { learned: definition.learned.optional() } : {}),
    ...parameterShape(definition.parameters),
  });

const FORMER_TYPES: FormerNames = {
  voice: "speech-denoise",
  replace: "spectral-inpainting",
  sides: "channel-repair",
  level: "region-gain",
  "gain-line": "gain-envelope",
};
const FORMER_NAMES: FormerNames = {
  on: "enabled",
  where: "regions",
  except: "excludedRegions",
  depthDb: "maxReductionDb",
  tonalDepthDb: "tonalMaxReductionDb",
  lineDbfs: "thresholdDbfs",
  tailSeconds: "rt60Seconds",
  levelDb: "reverberantToDirectDb",
};

export const repairStepSchema: z.ZodType<RepairStep> = z
  .preprocess(
    (given) => {
      const step = withCurrentNames(given, FORMER_NAMES);
      const type = (step as { type?: unknown } | null)?.type;
      return typeof type === "string" && Object.hasOwn(FORMER_TYPES, type)
        ? { ...(step as object), type: FORMER_TYPES[type] }
        : step;
    },
    z.discriminatedUnion("type", [stepSchema(REPAIRS[0]!), ...REPAIRS.slice(1).map(stepSchema)]),
  )
  .meta({ id: "RepairStep" });

export const repairsSchema: z.ZodType<RepairStep[]> = z.array(repairStepSchema).max(64);

/** The parameters of a step, with defaults for what it does not name. */
export const repairSettings = (step: RepairStep): SettingsOf<Parameters> =>
  settingsFrom(step, repairNamed(step.type).parameters);

/** Where a step applies, its fades included. */
export function regionsOf(step: RepairStep, sampleRate: Hertz): Region[] {
  const edges = repairNamed(step.type).edges?.(repairSettings(step));
  if (!edges?.outside) return step.regions;
  const wider = Math.round(edges.seconds * sampleRate);
  return step.regions.map((region) => ({
    ...region,
    start: Math.max(0, region.start - wider),
    end: region.end + wider,
  }));
}

/** Whether a step does anything at all. */
export const isActive = (step: RepairStep): boolean =>
  step.enabled && !repairNamed(step.type).isNeutral(repairSettings(step), step.learned);

/** A new step with default settings. */
export const newRepairStep = (type: string, id: string): RepairStep => ({
  type,
  id,
  enabled: true,
  regions: [],
  excludedRegions: [],
  ...defaultsOf(repairNamed(type).parameters),
});
