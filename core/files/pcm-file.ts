import type { ByteSource } from "./bytes";
import { decodePcm } from "./pcm-encoding";
import { type PcmEncoding } from "../audio/frame-source";
import type { Frames } from "../audio/units";
import type { SoundFile } from "./sound-file";

/** The part of a sound file that every PCM container shares: interleaved samples between two offsets. */
export function pcmFile(
  source: ByteSource,
  dataOffset: number,
  encoding: PcmEncoding,
  about: Omit<SoundFile, "read" | "readEncoded" | "pcm" | "encoding">,
): SoundFile {
  const frameBytes = about.channels * encoding.bytes;
  const kind = encoding.kind === "float" ? "float" : "integer";
  const readEncoded = (start: Frames, count: Frames) => {
    const wanted = Math.max(0, Math.min(count, about.frames - start));
    return source.read(dataOffset + start * frameBytes, wanted * frameBytes);
  };
  return {
    ...about,
    encoding: `${about.bitsPerSample}-bit ${kind}`,
    pcm: encoding,
    readEncoded,
    read: async (start, count, into) => decodePcm(await readEncoded(start, count), about.channels, encoding, into),
  };
}
