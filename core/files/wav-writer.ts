/**
 * WAV that becomes RF64 (EBU Tech 3306) when it grows past 4 GiB: a `JUNK` chunk keeps the place of `ds64`. The
 * bytes depend only on the samples and the metadata given.
 */
import { maskOfLayout, type Layout } from "../audio/layout";
import type { Frames, Hertz, Planar } from "../audio/units";
import { bextChunk, type BroadcastExtension } from "./broadcast-extension";
import type { ByteSink } from "./bytes";
import type { Depth } from "./containers";
import { ByteWriter } from "./chunk-bytes";
import { encodedFloats, encodedIntegers } from "../kernels/quantiser";
import type { PcmEncoding } from "../audio/frame-source";

export interface WavWriterOptions {
  sampleRate: Hertz;
  layout: Layout;
  format: Depth;
  broadcast?: BroadcastExtension;
  /** Chunks that say more, one after the other; they stand before the sound. */
  more?: Uint8Array;
  /** RF64 and BW64 have long sizes from the start; a plain file gets them when it needs them. */
  kind?: "RIFF" | "RF64" | "BW64";
  /** A file larger than this becomes RF64; 4 GiB, the most that RIFF can say, unless a receiver reads less. */
  largestRiff?: number;
}

const UNKNOWN_SIZE = 0xffffffff;
const LARGEST_RIFF = 0xfffffffe;

const PCM_GUID_TAIL = Uint8Array.from([0, 0, 0, 0, 0x10, 0, 0x80, 0, 0, 0xaa, 0, 0x38, 0x9b, 0x71]);
const DS64_SIZE = 28;

export const bytesOfFormat = (format: Depth): 2 | 3 | 4 => (format === "16" ? 2 : format === "24" ? 3 : 4);

/** Everything before the sound; `size` stands for the sizes of file and sound, which are not known yet. */
function wavHeader({ sampleRate, layout, format, broadcast, more }: WavWriterOptions, size: number): Uint8Array {
  const channels = layout.speakers.length;
  const bytes = bytesOfFormat(format);
  const tag = format === "32f" ? 3 : 1;
  const extensible = channels > 2;
  const header = new ByteWriter().ascii("RIFF").u32(size).ascii("WAVE");
  header.ascii("JUNK").u32(DS64_SIZE).zeros(DS64_SIZE);
  if (broadcast) header.raw(bextChunk(broadcast));
  header
    .ascii("fmt ")
    .u32(extensible ? 40 : 16)
    .u16(extensible ? 0xfffe : tag)
    .u16(channels)
    .u32(sampleRate);
  header
    .u32(sampleRate * channels * bytes)
    .u16(channels * bytes)
    .u16(bytes * 8);
  if (extensible)
    header
      .u16(22)
      .u16(bytes * 8)
      .u32(maskOfLayout(layout))
      .u16(tag)
      .raw(PCM_GUID_TAIL);
  if (more) header.raw(more);
  return header.ascii("data").u32(size).done();
}

/** The header of a file that is written while nobody knows how long it will be: sizes of all ones, float32. */
export const streamedWavHeader = (about: Pick<WavWriterOptions, "sampleRate" | "layout">): Uint8Array =>
  wavHeader({ ...about, format: "32f" }, UNKNOWN_SIZE);

/** Header of one channel of a file, its samples as they lie there; of what is longer than RIFF can say, streamed. */
export function monoHeader(sampleRate: Hertz, { kind, bytes }: PcmEncoding, frames: Frames): Uint8Array {
  const size = frames * bytes;
  const known = size + 100 < LARGEST_RIFF;
  const header = new ByteWriter()
    .ascii("RIFF")
    .u32(known ? 36 + size : UNKNOWN_SIZE)
    .ascii("WAVE");
  header
    .ascii("fmt ")
    .u32(16)
    .u16(kind === "float" ? 3 : 1)
    .u16(1)
    .u32(sampleRate);
  header
    .u32(sampleRate * bytes)
    .u16(bytes)
    .u16(bytes * 8);
  return header
    .ascii("data")
    .u32(known ? size : UNKNOWN_SIZE)
    .done();
}

/** Writes one file front to back; `finish` patches the sizes. */
export class WavWriter {
  readonly #sink: ByteSink;
  readonly #options: WavWriterOptions;
  #dataOffset = 0;
  #dataBytes = 0;
  #broadcastOffset = -1;

  private constructor(sink: ByteSink, options: WavWriterOptions) {
    this.#sink = sink;
    this.#options = options;
  }

  static async open(sink: ByteSink, options: WavWriterOptions): Promise<WavWriter> {
    const writer = new WavWriter(sink, options);
    await writer.#writeHeader();
    return writer;
  }

  async #writeHeader(): Promise<void> {
    const head = wavHeader(this.#options, 0);
    if (this.#options.broadcast) this.#broadcastOffset = 12 + 8 + DS64_SIZE;
    this.#dataOffset = head.length;
    await this.#sink.write(head);
  }

  /** Appends float samples, for the format "32f". */
  async writeFloat(block: Planar, frames: Frames): Promise<void> {
    await this.#append(encodedFloats(block, frames));
  }

  /** Appends samples that are already whole numbers of the format's depth. */
  async writeIntegers(block: Int32Array[], frames: Frames): Promise<void> {
    await this.#append(encodedIntegers(block, frames, bytesOfFormat(this.#options.format)));
  }

  /** Appends samples as they lie in a file of this kind and depth. */
  writeEncoded(bytes: Uint8Array): Promise<void> {
    return this.#append(bytes);
  }

  async #append(bytes: Uint8Array): Promise<void> {
    this.#dataBytes += bytes.length;
    await this.#sink.write(bytes);
  }

  /** Replaces the broadcast extension given at the start: its loudness fields are known only after measuring. */
  async describe(broadcast: BroadcastExtension): Promise<void> {
    if (this.#broadcastOffset >= 0) await this.#sink.patch(this.#broadcastOffset, bextChunk(broadcast));
  }

  /** Completes the file. */
  async finish(): Promise<void> {
    if (this.#dataBytes % 2 === 1) await this.#sink.write(new Uint8Array(1));
    const total = this.#dataOffset + this.#dataBytes + (this.#dataBytes % 2);
    const frameBytes = this.#options.layout.speakers.length * bytesOfFormat(this.#options.format);
    const { kind = "RIFF", largestRiff = LARGEST_RIFF } = this.#options;
    if (kind === "RIFF" && total - 8 <= largestRiff) {
      await this.#sink.patch(4, new ByteWriter().u32(total - 8).done());
      await this.#sink.patch(this.#dataOffset - 4, new ByteWriter().u32(this.#dataBytes).done());
      return;
    }
    const ds64 = new ByteWriter()
      .ascii("ds64")
      .u32(DS64_SIZE)
      .u64(total - 8)
      .u64(this.#dataBytes);
    ds64.u64(this.#dataBytes / frameBytes).u32(0);
    await this.#sink.patch(
      0,
      new ByteWriter()
        .ascii(kind === "BW64" ? kind : "RF64")
        .u32(0xffffffff)
        .done(),
    );
    await this.#sink.patch(12, ds64.done());
    await this.#sink.patch(this.#dataOffset - 4, new ByteWriter().u32(0xffffffff).done());
  }
}
