/** Recordings that are made of others in the background: they go on whatever is looked at, until they are taken in. */
import { create } from "zustand";
import { toast } from "sonner";
import type { ConvertAnswer, ConvertRequest } from "@playback/convert.worker";
import { PersistentWorker } from "@playback/persistent-worker";
import { uploadFiles } from "@ui/api/uploads";
import { askWorker } from "@ui/workers/ask-worker";

export interface ConversionJob {
  request: ConvertRequest;
  /** Of the recording that is made. */
  name: string;
}

/** Some recordings that are made together, and told of together. */
export interface ConversionBatch {
  id: number;
  project: string;
  jobs: readonly ConversionJob[];
  /** Of all of them, 0…1; `null` while others are made first. */
  fraction: number | null;
}

export const useConversions = create<{ batches: readonly ConversionBatch[] }>(() => ({ batches: [] }));

const cancels = new Map<number, AbortController>();
let ids = 0;
let busy: Promise<void> = Promise.resolve();

const change = (id: number, fraction: number) =>
  useConversions.setState(({ batches }) => ({
    batches: batches.map((batch) => (batch.id === id ? { ...batch, fraction } : batch)),
  }));

/** Keeps the page from being closed without a word. */
const warn = (event: BeforeUnloadEvent) => event.preventDefault();

/** Makes recordings, one after the other, and takes them in; batches wait for each other. */
export function convert(project: string, jobs: readonly ConversionJob[]): Promise<void> {
  const id = ++ids;
  const cancel = new AbortController();
  cancels.set(id, cancel);
  useConversions.setState(({ batches }) => ({ batches: [...batches, { id, project, jobs, fraction: null }] }));
  window.addEventListener("beforeunload", warn);
  busy = busy.then(() => make(id, project, jobs, cancel.signal)).finally(() => end(id));
  return busy;
}

export const stopConversion = (id: number): void => cancels.get(id)?.abort();

function end(id: number): void {
  cancels.delete(id);
  useConversions.setState(({ batches }) => ({ batches: batches.filter((batch) => batch.id !== id) }));
  if (cancels.size === 0) window.removeEventListener("beforeunload", warn);
}

async function make(id: number, project: string, jobs: readonly ConversionJob[], signal: AbortSignal): Promise<void> {
  if (signal.aborted) return;
  change(id, 0);
  try {
    for (const [index, { request, name }] of jobs.entries()) {
      const worker = new PersistentWorker(
        () => new Worker(new URL("@playback/convert.worker.ts", import.meta.url), { type: "module" }),
      );
      const { file } = await askWorker<ConvertAnswer>(worker, request, {
        signal,
        onProgress: ({ fraction }) => change(id, (index + fraction) / jobs.length),
      });
      const fileName = `${name.replace(/[/\\:]/g, ".")}.wav`;
      await uploadFiles(project, [new File([file], fileName, { type: "audio/wav" })]);
    }
    toast(jobs.length === 1 ? "The new recording is taken in" : `${jobs.length} new recordings are taken in`, {
      description: `${jobs.length === 1 ? "It stands" : "They stand"} at the end of the running order.`,
    });
  } catch (error) {
    if (!(error instanceof DOMException && error.name === "AbortError"))
      toast.error("No recording was made", { description: error instanceof Error ? error.message : String(error) });
  }
}
