import { looksLikeAiff, openAiff } from "./aiff-reader";
import { FileProblem, type ByteSource } from "./bytes";
import type { SoundFile } from "./sound-file";
import { looksLikeWav, openWav } from "./wav-reader";

const FORMATS = [
  { looksLike: looksLikeWav, open: openWav },
  { looksLike: looksLikeAiff, open: openAiff },
];

/**
 * Opens a file that the core reads itself; `undefined` when its first bytes are of another kind.
 * @throws FileProblem when it is of such a kind and damaged, or empty
 */
export async function openSoundFile(source: ByteSource): Promise<SoundFile | undefined> {
  if (source.size === 0) throw new FileProblem("The file is empty.");
  const head = await source.read(0, 12);
  return FORMATS.find((format) => format.looksLike(head))?.open(source);
}
