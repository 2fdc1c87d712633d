/** One way to write masters, whatever they are kept in. What others encode is handed to them as a plain WAV file. */
import { admChunks } from "./adm-document";
import { AiffWriter } from "./aiff-writer";
import type { BroadcastExtension } from "./broadcast-extension";
import type { ByteSink } from "./bytes";
import { ByteWriter } from "./chunk-bytes";
import { tagChunks } from "./riff-chunks";
import type { Layout } from "../audio/layout";
import type { Frames, Hertz, Planar } from "../audio/units";
import { isLossy, isOwnContainer, type Container, type Depth } from "./containers";
import { newTags, type Tags } from "./tags";
import { bytesOfFormat, WavWriter, type WavWriterOptions } from "./wav-writer";

export interface MasterWriter {
  writeFloat(block: Planar, frames: Frames): Promise<void>;
  writeIntegers(block: Int32Array[], frames: Frames): Promise<void>;
  /** Appends samples as they lie in a file of the same kind and depth. */
  writeEncoded(bytes: Uint8Array): Promise<void>;
  finish(): Promise<void>;
  /** Fills in what is known only after measuring, where the file has a place for it. */
  describe?(broadcast: BroadcastExtension): Promise<void>;
}

export interface MasterFileOptions {
  container: Container;
  depth: Depth;
  sampleRate: Hertz;
  layout: Layout;
  /** Length, for what must be said before the sound is there. */
  frames: Frames;
  tags: Tags;
  broadcast: BroadcastExtension;
}

const KINDS = { rf64: "RF64", bw64: "BW64" } as const;

/** The depth of the samples as they are written: encoders that lose something are given floating point. */
export const writtenDepth = (container: Container, depth: Depth): Depth => (isLossy(container) ? "32f" : depth);

export async function openMasterWriter(sink: ByteSink, options: MasterFileOptions): Promise<MasterWriter> {
  const { container, sampleRate, layout, frames, tags, broadcast } = options;
  const depth = writtenDepth(container, options.depth);
  const plain: WavWriterOptions = { sampleRate, layout, format: depth };
  if (container === "aiff") return AiffWriter.open(sink, { ...plain, tags });
  if (!isOwnContainer(container)) return WavWriter.open(sink, plain);
  const facts = {
    title: tags.title,
    durationSeconds: frames / sampleRate,
    sampleRate,
    bits: 8 * bytesOfFormat(depth),
  };
  const more = new ByteWriter().raw(saysNothing(tags) ? new Uint8Array(0) : tagChunks(tags, sampleRate));
  if (container === "bw64") more.raw(admChunks(layout, facts));
  const kind = container === "rf64" || container === "bw64" ? KINDS[container] : "RIFF";
  return WavWriter.open(sink, { ...plain, broadcast, more: more.done(), kind });
}

/** A title alone stands in the broadcast extension. */
const saysNothing = (tags: Tags): boolean =>
  JSON.stringify({ ...tags, title: "", startSeconds: undefined }) === JSON.stringify(newTags());
