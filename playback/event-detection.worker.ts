/** Lists the places that a repair would do something at. */
import { openSoundFile } from "@core/files/open";
import { findRepairEvents, type FoundRepairEvents } from "@core/repair/find-events";
import type { RepairStep } from "@core/repair";
import { repairedSource } from "@core/repair/repaired-source";
import type { StreamRange } from "@core/audio/stage";
import { httpSource } from "./http-source";
import { contentOf, RepairStore } from "./repair-cache";

export interface FindRequest {
  url: string;
  /** Repairs that come before. */
  before: RepairStep[];
  step: RepairStep;
  /** Looked through, frames of the recording. */
  ranges: StreamRange[];
  most: number;
}

export type FindAnswer =
  | { type: "progress"; fraction: number }
  | { type: "done"; found: FoundRepairEvents }
  | { type: "failed"; message: string };

const scope = self as unknown as DedicatedWorkerGlobalScope;
const answer = (message: FindAnswer) => scope.postMessage(message);

async function find({ url, before, step, ranges, most }: FindRequest): Promise<void> {
  const file = await openSoundFile(await httpSource(url));
  if (!file) throw new Error("The recording cannot be read.");
  const source = repairedSource(file, before, { content: contentOf(url), store: new RepairStore() });
  const found = await findRepairEvents(source, step, ranges, most, (fraction) =>
    answer({ type: "progress", fraction }),
  );
  answer({ type: "done", found });
}

scope.onmessage = ({ data }: MessageEvent<FindRequest>) => {
  find(data).catch((error: unknown) =>
    answer({ type: "failed", message: error instanceof Error ? error.message : String(error) }),
  );
};
