/** AIFF, and AIFF-C where samples are floating point (`fl32`): most significant byte first. */
import type { Layout } from "../audio/layout";
import type { Frames, Hertz, Planar } from "../audio/units";
import type { Depth } from "./containers";
import type { ByteSink } from "./bytes";
import { FileProblem } from "./bytes";
import { encodedFloats, encodedIntegers } from "../kernels/quantiser";
import { id3v2 } from "./id3v2";
import type { Tags } from "./tags";
import { utf8 } from "../math/utf8";
import { bytesOfFormat } from "./wav-writer";
import { maskOfLayout } from "../audio/layout";

export interface AiffWriterOptions {
  sampleRate: Hertz;
  layout: Layout;
  format: Depth;
  tags?: Tags;
}

const LARGEST = 0x7fffffff;
const CHAN_BITMAP = 1 << 16;

const be = (value: number, width: number): number[] =>
  Array.from({ length: width }, (_, i) => Math.floor(value / 256 ** (width - 1 - i)) & 0xff);

/** A rate as 80-bit IEEE extended; rates are whole numbers. */
function extended(rate: number): number[] {
  const exponent = Math.floor(Math.log2(rate));
  const high = rate * 2 ** (31 - exponent);
  return [...be(16383 + exponent, 2), ...be(high, 4), 0, 0, 0, 0];
}

const chunkOf = (id: string, body: readonly number[] | Uint8Array): number[] => [
  ...utf8(id),
  ...be(body.length, 4),
  ...body,
  ...(body.length % 2 ? [0] : []),
];

/** `bytes` of each sample the other way round, in place. */
function swapped(bytes: Uint8Array, width: 2 | 3 | 4): Uint8Array {
  for (let at = 0; at + width <= bytes.length; at += width) {
    for (let low = at, high = at + width - 1; low < high; low++, high--) {
      const byte = bytes[low]!;
      bytes[low] = bytes[high]!;
      bytes[high] = byte;
    }
  }
  return bytes;
}

/** Writes one file front to back; `finish` patches the sizes and appends the tags. */
export class AiffWriter {
  #soundOffset = 0;
  #soundBytes = 0;

  private constructor(
    readonly sink: ByteSink,
    readonly options: AiffWriterOptions,
  ) {}

  static async open(sink: ByteSink, options: AiffWriterOptions): Promise<AiffWriter> {
    const writer = new AiffWriter(sink, options);
    const head = writer.#head();
    writer.#soundOffset = head.length;
    await sink.write(head);
    return writer;
  }

  get #floating(): boolean {
    return this.options.format === "32f";
  }

  #head(): Uint8Array {
    const { sampleRate, layout, format } = this.options;
    const channels = layout.speakers.length;
    const common = [...be(channels, 2), ...be(0, 4), ...be(8 * bytesOfFormat(format), 2), ...extended(sampleRate)];
    // The name of the encoding, as a Pascal string of even length.
    const encoding = this.#floating ? [...utf8("fl32"), 6, ...utf8("32-bit"), 0] : [];
    const version = this.#floating ? chunkOf("FVER", be(0xa2805140, 4)) : [];
    const chan =
      channels > 2 ? chunkOf("CHAN", [...be(CHAN_BITMAP, 4), ...be(maskOfLayout(layout), 4), ...be(0, 4)]) : [];
    const form = [...utf8("FORM"), ...be(0, 4), ...utf8(this.#floating ? "AIFC" : "AIFF")];
    const sound = [...utf8("SSND"), ...be(0, 4), ...be(0, 8)];
    return Uint8Array.from([...form, ...version, ...chunkOf("COMM", [...common, ...encoding]), ...chan, ...sound]);
  }

  async writeFloat(block: Planar, frames: Frames): Promise<void> {
    await this.#append(swapped(encodedFloats(block, frames), 4));
  }

  async writeIntegers(block: Int32Array[], frames: Frames): Promise<void> {
    const width = bytesOfFormat(this.options.format);
    await this.#append(swapped(encodedIntegers(block, frames, width), width));
  }

  /** Appends samples as they lie in a file of this kind and depth. */
  writeEncoded(bytes: Uint8Array): Promise<void> {
    return this.#append(bytes);
  }

  async #append(bytes: Uint8Array): Promise<void> {
    this.#soundBytes += bytes.length;
    if (this.#soundOffset + this.#soundBytes > LARGEST)
      throw new FileProblem("An AIFF file cannot be larger than 2 GiB: deliver this item as WAV, RF64 or FLAC.");
    await this.sink.write(bytes);
  }

  /** Completes the file. */
  async finish(): Promise<void> {
    const { sampleRate, layout, format, tags } = this.options;
    const frames = this.#soundBytes / (layout.speakers.length * bytesOfFormat(format));
    const padding = this.#soundBytes % 2;
    const tail = tags ? chunkOf("ID3 ", id3v2(tags, frames / sampleRate)) : [];
    await this.sink.write(Uint8Array.from([...(padding ? [0] : []), ...tail]));
    const patch = (offset: number, value: number) => this.sink.patch(offset, Uint8Array.from(be(value, 4)));
    await patch(4, this.#soundOffset + this.#soundBytes + padding + tail.length - 8);
    await patch(this.#soundOffset - 12, 8 + this.#soundBytes);
    const common = (this.#floating ? 24 : 12) + 8;
    await patch(common + 2, frames);
  }
}
