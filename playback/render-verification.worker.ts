/**
 * Renders a master in the browser, by the same core, and gives its SHA-256: to be held against the server's. Of a file
 * that is encoded, the sound before it was.
 */
import { MemorySink, memorySource } from "@core/files/bytes";
import { openSoundFile } from "@core/files/open";
import { readCurves, readWaveformPeaksHeader } from "@core/measure/waveform-peaks-file";
import type { Figures } from "@core/measure";
import type { MasterInputs } from "@core/project/master-inputs";
import { renderMaster } from "@core/delivery/render-master";
import { renderSound } from "@core/delivery/write-master";
import type { MasterJob, MasterOptions, DeliverySettings } from "@core/delivery/master-job";
import { isUnprocessed } from "@core/render/processed-source";
import { isOwnContainer } from "@core/files/containers";
import { httpSource } from "./http-source";

export interface VerificationRequest {
  pcmUrl: string;
  overviewUrl: string;
  figures: Figures;
  sourceBits: number | null;
  inputs: MasterInputs;
  /** What the server chose, for sound that is encoded afterwards: the whole search needs the encoder. */
  settings: DeliverySettings;
  albumGainDb: number | null;
}
export type VerificationAnswer =
  | { type: "progress"; fraction: number; stage: string }
  | { type: "done"; hash: string }
  | { type: "failed"; message: string };

const scope = self as unknown as DedicatedWorkerGlobalScope;
const answer = (message: VerificationAnswer) => scope.postMessage(message);

async function prove({ pcmUrl, overviewUrl, figures, sourceBits, ...request }: VerificationRequest): Promise<string> {
  const overview = await httpSource(overviewUrl);
  const curves = await readCurves(overview, await readWaveformPeaksHeader(overview));
  const source = await openSoundFile(await httpSource(pcmUrl));
  if (!source) throw new Error("The sound cannot be read.");
  const { inputs, settings, albumGainDb } = request;
  const { recipe, clips, layout, tags } = inputs;
  // What was measured of the recording holds as long as nothing is done to it.
  const known = isUnprocessed({ ...recipe, clips }) ? { figures, curves } : undefined;
  const job: MasterJob = { source, layout, sourceBits, clips, recipe, tags, albumGainDb, known };
  let sink = new MemorySink();
  const target = { open: async () => (sink = new MemorySink()), readBack: async () => memorySource(sink.bytes()) };
  const onProgress: MasterOptions["onProgress"] = ({ stage, fraction }) =>
    answer({ type: "progress", stage, fraction });
  if (isOwnContainer(recipe.format.container)) await renderMaster(job, target, { onProgress });
  else await renderSound(job, settings, target, { onProgress });
  const digest = await crypto.subtle.digest("SHA-256", sink.bytes() as Uint8Array<ArrayBuffer>);
  return Array.from(new Uint8Array(digest), (byte) => byte.toString(16).padStart(2, "0")).join("");
}

scope.onmessage = ({ data }: MessageEvent<VerificationRequest>) => {
  prove(data).then(
    (hash) => answer({ type: "done", hash }),
    (error: unknown) => answer({ type: "failed", message: error instanceof Error ? error.message : String(error) }),
  );
};
