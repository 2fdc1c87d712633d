/** A master taken apart: one mono WAV file a channel, the samples as they are. */
import { Readable } from "node:stream";
import { openSoundFile } from "@core/files/open";
import { fileName } from "@core/project/file-name";
import type { Master } from "@core/project/views";
import { masterLayout } from "@core/delivery/render-plan";
import { isOwnContainer } from "@core/files/containers";
import { monoHeader } from "@core/files/wav-writer";
import { blobs } from "./blobs";
import { Problem } from "../problem";

const FRAMES_AT_ONCE = 65_536;

/** @throws Problem where the master is encoded */
export async function* monoFiles(master: Master): AsyncGenerator<{ name: string; stream: Readable }> {
  const { recipe, layout, tags } = master.inputs;
  if (!isOwnContainer(recipe.format.container) || recipe.format.container === "aiff" || !master.file_hash)
    throw new Problem(
      409,
      "Not to be taken apart",
      "One file a channel is made of finished WAV, RF64 and BW64 masters.",
    );
  const { speakers } = masterLayout(recipe, layout);
  for (const [channel, { label }] of speakers.entries()) {
    const name = `${fileName(tags.title)} - ${String(channel + 1).padStart(2, "0")} ${label}.wav`;
    yield { name, stream: Readable.from(channelBytes(master.file_hash, channel)) };
  }
}

async function* channelBytes(hash: string, channel: number): AsyncGenerator<Uint8Array> {
  const bytes = await blobs.open(hash);
  try {
    const { sampleRate, pcm, frames, channels, readEncoded } = (await openSoundFile(bytes))!;
    const width = pcm.bytes;
    yield monoHeader(sampleRate, pcm, frames);
    for (let at = 0; at < frames; at += FRAMES_AT_ONCE) {
      const encoded = await readEncoded(at, FRAMES_AT_ONCE);
      const count = Math.floor(encoded.length / (width * channels));
      const one = new Uint8Array(count * width);
      for (let frame = 0; frame < count; frame++) {
        const from = (frame * channels + channel) * width;
        one.set(encoded.subarray(from, from + width), frame * width);
      }
      yield one;
    }
  } finally {
    await bytes.close();
  }
}
