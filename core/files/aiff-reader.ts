/** AIFF and AIFF-C (Apple 1989/1991, an open format): big-endian integers, `sowt` little-endian, `fl32`, `fl64`. */
import { layoutFromMask, layoutOfLabels, type Layout } from "../audio/layout";
import { FileProblem, type ByteSource } from "./bytes";
import { ascii, view } from "./chunk-bytes";
import { readId3v2 } from "./id3v2";
import type { PcmEncoding } from "../audio/frame-source";
import { pcmFile } from "./pcm-file";
import type { SoundFile } from "./sound-file";
import type { Tags } from "./tags";

/** More than any file has: what goes on has no end. */
const MAX_CHUNKS = 10_000;
const MAX_TAG_BYTES = 2 ** 20;

export const looksLikeAiff = (head: Uint8Array): boolean =>
  ascii(head, 0) === "FORM" && ["AIFF", "AIFC"].includes(ascii(head, 8));

/** Opens an AIFF or AIFF-C file. @throws FileProblem that says what is wrong */
export async function openAiff(source: ByteSource): Promise<SoundFile> {
  const head = await source.read(0, 12);
  if (head.length < 12 || !looksLikeAiff(head))
    throw new FileProblem("This is not an AIFF file: its first bytes are not FORM…AIFF.");
  const warnings: string[] = [];
  let common: { channels: number; frames: number; bits: number; sampleRate: number; compression: string } | undefined;
  let channelLayout: Uint8Array | undefined;
  let tags: Tags | undefined;
  let dataOffset = -1;
  let dataSize = 0;
  for (let offset = 12, chunks = 0; offset + 8 <= source.size && chunks < MAX_CHUNKS; chunks++) {
    const header = await source.read(offset, 8);
    const chunk = ascii(header, 0);
    const size = view(header).getUint32(4);
    if (chunk === "COMM") {
      const bytes = await source.read(offset + 8, Math.min(size, 22));
      if (bytes.length < 18) throw new FileProblem('The AIFF "COMM" chunk is cut short.');
      const body = view(bytes);
      common = {
        channels: body.getUint16(0),
        frames: body.getUint32(2),
        bits: body.getUint16(6),
        sampleRate: extended(body, 8),
        compression: bytes.length >= 22 ? ascii(bytes, 18) : "NONE",
      };
    } else if (chunk === "CHAN") {
      channelLayout = await source.read(offset + 8, Math.min(size, 12));
    } else if (chunk === "ID3 " && size <= MAX_TAG_BYTES) {
      const told = readId3v2(await source.read(offset + 8, size));
      tags = told.tags;
      warnings.push(...told.warnings);
    } else if (chunk === "SSND") {
      const skipped = await source.read(offset + 8, 4);
      if (skipped.length < 4) throw new FileProblem('The AIFF "SSND" chunk is cut short: it holds no sound.');
      const skip = view(skipped).getUint32(0);
      dataOffset = offset + 16 + skip;
      dataSize = Math.max(0, size - 8 - skip);
      if (dataOffset + dataSize > source.size) {
        const found = Math.max(0, source.size - dataOffset);
        warnings.push(`The header states ${dataSize} bytes of sound; ${found} were found and read.`);
        dataSize = found;
      }
    }
    offset += 8 + size + (size % 2);
  }
  if (!common) throw new FileProblem('The AIFF file has no "COMM" chunk, so rate and channels are unknown.');
  if (dataOffset < 0) throw new FileProblem('The AIFF file has no "SSND" chunk: it holds no sound.');
  const { channels, bits, sampleRate } = common;
  if (channels < 1 || channels > 24) throw new FileProblem(`The file has ${channels} channels; 1 to 24 can be read.`);
  if (!(sampleRate >= 8000 && sampleRate <= 384_000))
    throw new FileProblem(`The sample rate is ${sampleRate} Hz; 8000 to 384000 can be read.`);
  const encoding = encodingOf(common.compression, bits);
  return pcmFile(source, dataOffset, encoding, {
    container: "AIFF",
    sampleRate,
    channels,
    frames: Math.min(common.frames || Infinity, Math.floor(dataSize / (channels * encoding.bytes))),
    bitsPerSample: bits,
    layout: channelLayout && layoutFromChan(channelLayout, channels),
    warnings,
    tags,
  });
}

/** Layout tags of the CHAN chunk that say an order: their upper half, and what it stands for. */
const CHAN_TAGS: Readonly<Record<number, string>> = {
  100: "M",
  101: "L R",
  108: "L R Ls Rs",
  113: "L R C",
  121: "L R C LFE Ls Rs",
  122: "L R Ls Rs C LFE",
  123: "L C R Ls Rs LFE",
  124: "C L R Ls Rs LFE",
  128: "L R C LFE Ls Rs Lb Rb",
};
const CHAN_BITMAP = 1;

/** The layout that a CHAN chunk tells by its tag, or by a bitmap with the bits of WAVE; `undefined` for others. */
function layoutFromChan(bytes: Uint8Array, channels: number): Layout | undefined {
  if (bytes.length < 8) return undefined;
  const body = view(bytes);
  const tag = body.getUint16(0);
  if (tag === CHAN_BITMAP) return layoutFromMask(body.getUint32(4), channels);
  const labels = CHAN_TAGS[tag]?.split(" ");
  return labels?.length === channels ? layoutOfLabels(labels) : undefined;
}

function encodingOf(compression: string, bits: number): PcmEncoding {
  const bytes = Math.ceil(bits / 8);
  const name = compression.toLowerCase();
  if (name === "fl32") return { kind: "float", bytes: 4, bigEndian: true };
  if (name === "fl64") return { kind: "float", bytes: 8, bigEndian: true };
  if ((name === "none" || name === "sowt" || name === "twos") && bytes >= 1 && bytes <= 4) {
    return { kind: "integer", bytes: bytes as 1 | 2 | 3 | 4, bigEndian: name !== "sowt" };
  }
  throw new FileProblem(`The AIFF-C encoding "${compression}" with ${bits} bits cannot be read.`);
}

/** 80-bit IEEE extended to double. */
function extended(body: DataView, at: number): number {
  const exponent = (body.getUint16(at) & 0x7fff) - 16383 - 63;
  const mantissa = body.getUint32(at + 2) * 4294967296 + body.getUint32(at + 6);
  return mantissa * 2 ** exponent;
}
