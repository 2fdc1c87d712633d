/** Lists the places that a repair would do something at. */
import { openSoundFile } from "@core/files/open";
import { findRepairEvents, type FoundRepairEvents } from "@core/repair/find-events";
import type { RepairStep } from "@core/repair";
import { repairedSource } from "@core/repair/repaired-source";
import type { StreamRange } from "@core/audio/stage";
import { httpSource } from "./http-source";
import { contentHashOf, RepairCache } from "./repair-cache";

export interface DetectionRequest {
  url: string;
  /** Repairs that come before. */
  before: RepairStep[];
  step: RepairStep;
  /** Looked through, frames of the recording. */
  ranges: StreamRange[];
  most: number;
}

export type DetectionAnswer =
  | { type: "progress"; fraction: number }
  | { type: "done"; found: FoundRepairEvents }
  | { type: "failed"; message: string };

const scope = self as unknown as DedicatedWorkerGlobalScope;
const answer = (message: DetectionAnswer) => scope.postMessage(message);

async function find({ url, before, step, ranges, most }: DetectionRequest): Promise<void> {
  const file = await openSoundFile(await httpSource(url));
  if (!file) throw new Error("The recording cannot be read.");
  const source = repairedSource(file, before, { content: contentHashOf(url), store: new RepairCache() });
  const found = await findRepairEvents(source, step, ranges, most, (fraction) =>
    answer({ type: "progress", fraction }),
  );
  answer({ type: "done", found });
}

scope.onmessage = ({ data }: MessageEvent<DetectionRequest>) => {
  find(data).catch((error: unknown) =>
    answer({ type: "failed", message: error instanceof Error ? error.message : String(error) }),
  );
};
