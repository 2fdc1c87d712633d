import type { ByteSource } from "./bytes";
import { decodePcm, type PcmEncoding } from "./pcm-encoding";
import type { SoundFile } from "./sound-file";

/** The part of a sound file that every PCM container shares: interleaved samples between two offsets. */
export function pcmFile(
  source: ByteSource,
  dataOffset: number,
  encoding: PcmEncoding,
  about: Omit<SoundFile, "read" | "encoding">,
): SoundFile {
  const frameBytes = about.channels * encoding.bytes;
  const kind = encoding.kind === "float" ? "float" : "integer";
  return {
    ...about,
    encoding: `${about.bitsPerSample}-bit ${kind}`,
    async read(start, count, into) {
      const wanted = Math.max(0, Math.min(count, about.frames - start));
      return decodePcm(
        await source.read(dataOffset + start * frameBytes, wanted * frameBytes),
        about.channels,
        encoding,
        into,
      );
    },
  };
}
