/** Makes a new recording of an item, as a file that the browser keeps until it is taken in. */
import { editListSource } from "@core/edit-list/edit-list-source";
import type { Clip } from "@core/edit-list/clip";
import { converted, type Conversion } from "@core/convert/conversion";
import { MemorySink, type ByteSink } from "@core/files/bytes";
import { openSoundFile } from "@core/files/open";
import { WavWriter } from "@core/files/wav-writer";
import type { RepairStep } from "@core/repair";
import { repairedSource } from "@core/repair/repaired-source";
import type { Layout } from "@core/audio/layout";
import { framesOf } from "@core/audio/units";
import { httpSource } from "./http-source";
import { contentHashOf, RepairCache } from "./repair-cache";

export interface ConvertRequest {
  url: string;
  layout: Layout;
  repairs: RepairStep[];
  clips: Clip[] | null;
  conversion: Conversion;
}

export type ConvertAnswer =
  { type: "progress"; fraction: number } | { type: "done"; file: Blob } | { type: "failed"; message: string };

const scope = self as unknown as DedicatedWorkerGlobalScope;
const answer = (message: ConvertAnswer) => scope.postMessage(message);

/** A file in the browser's own storage: hours of sound need no memory. */
async function diskSink(): Promise<{ sink: ByteSink; file: () => Promise<Blob> }> {
  const folder = await navigator.storage.getDirectory();
  const handle = await folder.getFileHandle("resonum-conversion.wav", { create: true });
  const access = await handle.createSyncAccessHandle();
  access.truncate(0);
  let size = 0;
  return {
    sink: {
      async write(bytes) {
        access.write(bytes as Uint8Array<ArrayBuffer>, { at: size });
        size += bytes.length;
      },
      async patch(offset, bytes) {
        access.write(bytes as Uint8Array<ArrayBuffer>, { at: offset });
      },
    },
    async file() {
      access.flush();
      access.close();
      return handle.getFile();
    },
  };
}

/** Where the browser keeps no files, memory must do. */
async function memorySink(): ReturnType<typeof diskSink> {
  const sink = new MemorySink();
  return { sink, file: async () => new Blob([sink.bytes() as Uint8Array<ArrayBuffer>]) };
}

async function convert({ url, layout, repairs, clips, conversion }: ConvertRequest): Promise<void> {
  const file = await openSoundFile(await httpSource(url));
  if (!file) throw new Error("The recording cannot be read.");
  const repaired = repairedSource(file, repairs, { content: contentHashOf(url), store: new RepairCache() });
  const made = converted(editListSource(repaired, clips), layout, conversion, {
    onProgress: (fraction) => answer({ type: "progress", fraction }),
  });
  const target = await diskSink().catch(memorySink);
  const { sampleRate } = made;
  const writer = await WavWriter.open(target.sink, { sampleRate, layout: made.layout, format: "32f" });
  for await (const block of made.blocks) await writer.writeFloat(block, framesOf(block));
  await writer.finish();
  answer({ type: "done", file: await target.file() });
}

scope.onmessage = ({ data }: MessageEvent<ConvertRequest>) => {
  convert(data).catch((error: unknown) =>
    answer({ type: "failed", message: error instanceof Error ? error.message : String(error) }),
  );
};
