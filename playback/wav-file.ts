/** Writes sound as a WAV file of float32, for a worker: on the browser's own disk where there is one, in memory else. */
import { MemorySink, type ByteSink } from "@core/files/bytes";
import { WavWriter } from "@core/files/wav-writer";
import type { Layout } from "@core/audio/layout";
import { framesOf, type Hertz, type Planar } from "@core/audio/units";

interface FileSink {
  sink: ByteSink;
  file: () => Promise<Blob>;
}

/** A file in the browser's own storage: hours of sound need no memory. */
async function diskSink(name: string): Promise<FileSink> {
  const folder = await navigator.storage.getDirectory();
  const handle = await folder.getFileHandle(`resonum-${name}.wav`, { create: true });
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
async function memorySink(): Promise<FileSink> {
  const sink = new MemorySink();
  return { sink, file: async () => new Blob([sink.bytes() as Uint8Array<ArrayBuffer>]) };
}

/** @param name of what is made: the browser keeps one file of each name, until the next is made */
export async function wavFile(
  name: string,
  format: { sampleRate: Hertz; layout: Layout },
  blocks: AsyncIterable<Planar> | Iterable<Planar>,
): Promise<Blob> {
  const target = await diskSink(name).catch(memorySink);
  const { sampleRate, layout } = format;
  const writer = await WavWriter.open(target.sink, { sampleRate, layout, format: "32f" });
  for await (const block of blocks) await writer.writeFloat(block, framesOf(block));
  await writer.finish();
  return target.file();
}
