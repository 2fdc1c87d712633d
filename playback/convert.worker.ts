/** Makes a new recording of an item, as a file that the browser keeps until it is taken in. */
import { editListSource } from "@core/edit-list/edit-list-source";
import type { Clip } from "@core/edit-list/clip";
import { converted, type Conversion } from "@core/convert/conversion";
import { openSoundFile } from "@core/files/open";
import type { RepairStep } from "@core/repair";
import { repairedSource } from "@core/repair/repaired-source";
import type { Layout } from "@core/audio/layout";
import { httpSource } from "./http-source";
import { contentHashOf, RepairCache } from "./repair-cache";
import { wavFile } from "./wav-file";

export interface ConvertRequest {
  url: string;
  layout: Layout;
  repairs: RepairStep[];
  clips: Clip[] | null;
  conversion: Conversion;
}

export type ConvertAnswer =
  | { type: "progress"; fraction: number }
  | { type: "done"; file: Blob }
  | { type: "failed"; message: string };

const scope = self as unknown as DedicatedWorkerGlobalScope;
const answer = (message: ConvertAnswer) => scope.postMessage(message);

async function convert({ url, layout, repairs, clips, conversion }: ConvertRequest): Promise<void> {
  const file = await openSoundFile(await httpSource(url));
  if (!file) throw new Error("The recording cannot be read.");
  const repaired = repairedSource(file, repairs, { content: contentHashOf(url), store: new RepairCache() });
  const made = converted(editListSource(repaired, clips), layout, conversion, {
    onProgress: (fraction) => answer({ type: "progress", fraction }),
  });
  answer({ type: "done", file: await wavFile("conversion", made, made.blocks) });
}

scope.onmessage = ({ data }: MessageEvent<ConvertRequest>) => {
  convert(data).catch((error: unknown) =>
    answer({ type: "failed", message: error instanceof Error ? error.message : String(error) }),
  );
};
