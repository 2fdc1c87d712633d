/** Looks a recording through for places that look like a region. */
import { openSoundFile } from "@core/files/open";
import type { RepairStep } from "@core/repair";
import { repairedSource } from "@core/repair/repaired-source";
import { matchTemplate, type TemplateMatch } from "@core/repair/template-matching";
import type { Region } from "@core/repair/time-frequency-region";
import { httpSource } from "./http-source";
import { contentHashOf, RepairCache } from "./repair-cache";

export interface MatchRequest {
  url: string;
  /** Repairs that come before. */
  before: RepairStep[];
  region: Region;
  least: number;
}

export type MatchAnswer =
  | { type: "progress"; fraction: number }
  | { type: "done"; places: TemplateMatch[] }
  | { type: "failed"; message: string };

const scope = self as unknown as DedicatedWorkerGlobalScope;
const answer = (message: MatchAnswer) => scope.postMessage(message);

async function find({ url, before, region, least }: MatchRequest): Promise<void> {
  const file = await openSoundFile(await httpSource(url));
  if (!file) throw new Error("The recording cannot be read.");
  const source = repairedSource(file, before, { content: contentHashOf(url), store: new RepairCache() });
  const onProgress = (fraction: number) => answer({ type: "progress", fraction });
  answer({ type: "done", places: await matchTemplate(source, region, { least, onProgress }) });
}

scope.onmessage = ({ data }: MessageEvent<MatchRequest>) => {
  find(data).catch((error: unknown) =>
    answer({ type: "failed", message: error instanceof Error ? error.message : String(error) }),
  );
};
