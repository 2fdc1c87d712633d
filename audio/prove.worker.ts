/** Renders a master in the browser, by the same core, and gives its SHA-256: to be held against the server's. */
import { MemorySink, memorySource } from "@core/files/bytes";
import { openSoundFile } from "@core/files/open";
import { readCurves, readOverviewHeader } from "@core/files/overview-file";
import type { Figures } from "@core/measure";
import type { MasterInputs } from "@core/project/master-inputs";
import { renderMaster } from "@core/render/master";
import { httpSource } from "./http-source";

export interface ProofRequest {
  pcmUrl: string;
  overviewUrl: string;
  figures: Figures;
  sourceBits: number | null;
  inputs: MasterInputs;
}
export type ProofAnswer =
  | { type: "progress"; fraction: number; stage: string }
  | { type: "done"; hash: string }
  | { type: "failed"; message: string };

const scope = self as unknown as DedicatedWorkerGlobalScope;
const answer = (message: ProofAnswer) => scope.postMessage(message);

async function prove({ pcmUrl, overviewUrl, figures, sourceBits, inputs }: ProofRequest): Promise<string> {
  const overview = await httpSource(overviewUrl);
  const curves = await readCurves(overview, await readOverviewHeader(overview));
  const source = await openSoundFile(await httpSource(pcmUrl));
  if (!source) throw new Error("The sound cannot be read.");
  let sink = new MemorySink();
  await renderMaster(
    {
      source,
      layout: inputs.layout,
      sourceBits,
      pieces: inputs.pieces,
      recipe: inputs.recipe,
      title: inputs.title,
      known: { figures, curves },
    },
    { open: async () => (sink = new MemorySink()), readBack: async () => memorySource(sink.bytes()) },
    { onProgress: ({ stage, fraction }) => answer({ type: "progress", stage, fraction }) },
  );
  const digest = await crypto.subtle.digest("SHA-256", sink.bytes() as Uint8Array<ArrayBuffer>);
  return Array.from(new Uint8Array(digest), (byte) => byte.toString(16).padStart(2, "0")).join("");
}

scope.onmessage = ({ data }: MessageEvent<ProofRequest>) => {
  prove(data).then(
    (hash) => answer({ type: "done", hash }),
    (error: unknown) => answer({ type: "failed", message: error instanceof Error ? error.message : String(error) }),
  );
};
