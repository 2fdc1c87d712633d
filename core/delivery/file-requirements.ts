/** What a spec asks of the file itself: its rate, depth, kind and channels. */
import * as z from "zod";
import { formatRate } from "../audio/format";
import type { Hertz } from "../audio/units";
import { CONTAINER_ABOUT, isLossy, type Container, type Depth } from "../files/containers";
import type { FileRequirements } from "./spec";

export interface FileFacts {
  container: Container;
  sampleRate: Hertz;
  depth: Depth;
  /** Name of the channel layout. */
  layout: string;
  bitrateKbps: number | null;
  variable: boolean;
}

const depthWords = (depth: Depth): string => (depth === "32f" ? "32 bit float" : `${depth} bit`);

/** Each demand that concerns such a file. */
export function checkFile(fileRequirements: FileRequirements | undefined, file: FileFacts): RequirementVerdict[] {
  if (!fileRequirements) return [];
  const { clause } = fileRequirements;
  const lossy = isLossy(file.container);
  const verdicts: RequirementVerdict[] = [];
  const add = (what: string, value: string, wanted: string, met: boolean) =>
    verdicts.push({ what, value, wanted, met, clause });
  const { sampleRates, depths, containers, layouts, minBitrateKbps, constantBitrate } = fileRequirements;
  if (sampleRates)
    add(
      "Sample rate",
      formatRate(file.sampleRate),
      sampleRates.map((rate) => formatRate(rate)).join(" or "),
      sampleRates.includes(file.sampleRate),
    );
  if (depths && !lossy)
    add("Depth", depthWords(file.depth), depths.map(depthWords).join(" or "), depths.includes(file.depth));
  if (containers)
    add(
      "Kind of file",
      CONTAINER_ABOUT[file.container].name,
      containers.map((container) => CONTAINER_ABOUT[container].name).join(" or "),
      containers.includes(file.container),
    );
  if (layouts) add("Channels", file.layout, layouts.join(" or "), layouts.includes(file.layout));
  if (minBitrateKbps !== undefined && lossy)
    add(
      "Data rate",
      `${file.bitrateKbps ?? "?"} kbit/s`,
      `${minBitrateKbps} kbit/s or more`,
      (file.bitrateKbps ?? 0) >= minBitrateKbps,
    );
  if (constantBitrate && lossy) add("Data rate", file.variable ? "variable" : "constant", "constant", !file.variable);
  return verdicts;
}

/** One demand on the file. */
export const requirementVerdictSchema = z.object({
  what: z.string(),
  value: z.string(),
  wanted: z.string(),
  met: z.boolean(),
  clause: z.string(),
});
export type RequirementVerdict = z.infer<typeof requirementVerdictSchema>;
