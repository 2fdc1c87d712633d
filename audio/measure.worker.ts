/** Measures a stretch of a recording in the browser, by the same core as the server.. */
import { openSoundFile } from "@core/files/open";
import { Measurer, type Curves, type Figures } from "@core/measure";
import { stream, type StreamRange } from "@core/render/stage";
import type { Layout } from "@core/signal/layout";
import { httpSource } from "./http-source";

export interface MeasureRequest {
  url: string;
  layout: Layout;
  /** Frames of the recording. */
  range: StreamRange;
}
export type MeasureAnswer = { type: "done"; figures: Figures; curves: Curves } | { type: "failed"; message: string };

const scope = self as unknown as DedicatedWorkerGlobalScope;
const answer = (message: MeasureAnswer) => scope.postMessage(message);

async function measure({ url, layout, range }: MeasureRequest): Promise<void> {
  const file = await openSoundFile(await httpSource(url));
  if (!file) throw new Error("The sound cannot be read.");
  const measurer = new Measurer({ sampleRate: file.sampleRate, layout });
  await stream(file, [], (block) => measurer.process(block), { range });
  answer({ type: "done", ...measurer.result() });
}

scope.onmessage = ({ data }: MessageEvent<MeasureRequest>) => {
  measure(data).catch((error: unknown) => {
    answer({ type: "failed", message: error instanceof Error ? error.message : String(error) });
  });
};
