/**
 * WAV (RIFF, RIFX), RF64 (EBU Tech 3306) and BW64 (ITU-R BS.2088): the header survives what programs leave behind
 * after a crash or a long recording, and says so in `warnings`.
 */
import { layoutFromMask, type Layout } from "../audio/layout";
import { FileProblem, type ByteSource } from "./bytes";
import { layoutFromAdm, refuseUnrendered } from "./adm-layout";
import { timeReferenceOf } from "./broadcast-extension";
import { ascii, text, view } from "./chunk-bytes";
import type { PcmEncoding } from "../audio/frame-source";
import { pcmFile } from "./pcm-file";
import { TagReader } from "./riff-chunks";
import type { SoundFile } from "./sound-file";
import { parseTags, type ParsedTags } from "./tags";

const FORMAT_PCM = 1;
const FORMAT_FLOAT = 3;
const FORMAT_EXTENSIBLE = 0xfffe;
const UNKNOWN_SIZE = 0xffffffff;
const MAX_CHUNKS = 10_000;
const MAX_CHNA_BYTES = 4 + 40 * 1024;
const MAX_AXML_BYTES = 16 * 2 ** 20;
const MAX_TAG_BYTES = 2 ** 20;
/** In these the layout may stand behind the sound. */
const SEEKS_ADM = new Set(["RF64", "BW64"]);

interface WaveFormat {
  channels: number;
  sampleRate: number;
  bits: number;
  encoding: PcmEncoding;
  layout: Layout | undefined;
}

/** Whether the first bytes are those of a file that `openWav` reads. */
export function looksLikeWav(head: Uint8Array): boolean {
  const id = ascii(head, 0);
  return ["RIFF", "RIFX", "RF64", "BW64"].includes(id) && ascii(head, 8) === "WAVE";
}

/** Opens a WAV, RF64 or BW64 file. @throws FileProblem that says what is wrong */
export async function openWav(source: ByteSource): Promise<SoundFile> {
  const head = await source.read(0, 12);
  if (head.length < 12 || !looksLikeWav(head))
    throw new FileProblem("This is not a WAV file: its first bytes are not RIFF…WAVE.");
  const id = ascii(head, 0);
  const bigEndian = id === "RIFX";
  const warnings: string[] = [];
  let format: WaveFormat | undefined;
  let chna: Uint8Array | undefined;
  let axml: string | undefined;
  let dataOffset = -1;
  let dataSize = 0;
  let size64: number | undefined;
  const told: { chunk: string; body: Uint8Array }[] = [];
  let tagBytesLeft = MAX_TAG_BYTES;

  for (let offset = 12, chunks = 0; offset + 8 <= source.size && chunks < MAX_CHUNKS; chunks++) {
    const header = await source.read(offset, 8);
    const chunk = ascii(header, 0);
    let size = view(header).getUint32(4, !bigEndian);
    if (chunk === "ds64") {
      const body = view(await source.read(offset + 8, 24));
      if (body.byteLength >= 16) size64 = Number(body.getBigUint64(8, true));
    } else if (chunk === "fmt ") {
      format = parseFormat(view(await source.read(offset + 8, Math.min(size, 40))), bigEndian);
    } else if (chunk === "data") {
      dataOffset = offset + 8;
      if (size === UNKNOWN_SIZE && size64 !== undefined) size = size64;
      dataSize = size;
      if (size === 0 || size === UNKNOWN_SIZE || dataOffset + size > source.size) {
        const rest = source.size - dataOffset;
        // Sizes of all ones in both places: it was written as it came, and nothing is wrong with it.
        const streamed = size === UNKNOWN_SIZE && view(head).getUint32(4, !bigEndian) === UNKNOWN_SIZE;
        if (!streamed && !(size === 0 && rest === 0)) {
          const stated = size === UNKNOWN_SIZE ? "no size" : `${size} bytes`;
          if (size !== 0 || format)
            warnings.push(`The header states ${stated} of sound; ${rest} bytes were found and read.`);
        }
        dataSize = Math.max(0, rest);
        break;
      }
      if (format && !SEEKS_ADM.has(id)) break;
    } else if (TagReader.wants(chunk) && size <= tagBytesLeft) {
      tagBytesLeft -= size;
      const body = await source.read(offset + 8, size);
      if (chunk !== "bext" || timeReferenceOf(body) > 0) told.push({ chunk, body });
    } else if (chunk === "chna") {
      chna = await source.read(offset + 8, Math.min(size, MAX_CHNA_BYTES));
    } else if (chunk === "axml" && size <= MAX_AXML_BYTES) {
      axml = text(await source.read(offset + 8, size));
    }
    offset += 8 + size + (size % 2);
  }

  if (!format)
    throw new FileProblem(
      'The WAV file has no "fmt " chunk, so rate and channels are unknown: it is damaged beyond its header.',
    );
  if (dataOffset < 0) throw new FileProblem('The WAV file has no "data" chunk: it holds no sound.');
  const { channels, sampleRate, bits, encoding, layout } = format;
  const frameBytes = channels * encoding.bytes;
  if (dataSize % frameBytes !== 0) warnings.push("The last frame is incomplete and was left out.");
  const { tags, warnings: ofTags } = told.length > 0 ? tagsOf(told, sampleRate) : parseTags({});
  warnings.push(...ofTags);
  if (chna) refuseUnrendered(chna, channels);
  return pcmFile(source, dataOffset, encoding, {
    container: id === "RIFF" || id === "RIFX" ? "WAV" : id,
    sampleRate,
    channels,
    frames: Math.floor(dataSize / frameBytes),
    bitsPerSample: bits,
    layout: (chna && layoutFromAdm(chna, axml, channels)) ?? layout,
    warnings,
    tags: told.length > 0 ? tags : undefined,
  });
}

function tagsOf(told: readonly { chunk: string; body: Uint8Array }[], sampleRate: number): ParsedTags {
  const reader = new TagReader(sampleRate);
  // Points before the labels that name them.
  for (const { chunk, body } of [...told].sort((a, b) => Number(b.chunk === "cue ") - Number(a.chunk === "cue ")))
    reader.take(chunk, body);
  return reader.told();
}

function parseFormat(body: DataView, bigEndian: boolean): WaveFormat {
  if (body.byteLength < 16)
    throw new FileProblem(`The "fmt " chunk has ${body.byteLength} bytes; at least 16 are needed.`);
  const little = !bigEndian;
  let tag = body.getUint16(0, little);
  const channels = body.getUint16(2, little);
  const sampleRate = body.getUint32(4, little);
  const blockAlign = body.getUint16(12, little);
  let bits = body.getUint16(14, little);
  let layout: Layout | undefined;
  if (tag === FORMAT_EXTENSIBLE && body.byteLength >= 40) {
    bits = body.getUint16(18, little) || bits;
    layout = layoutFromMask(body.getUint32(20, little), channels);
    tag = body.getUint16(24, little);
  }
  if (channels < 1 || channels > 24) throw new FileProblem(`The file has ${channels} channels; 1 to 24 can be read.`);
  if (sampleRate < 8000 || sampleRate > 384_000)
    throw new FileProblem(`The sample rate is ${sampleRate} Hz; 8000 to 384000 can be read.`);
  const bytes = blockAlign / channels;
  const float = tag === FORMAT_FLOAT;
  const allowed = float ? [4, 8] : [1, 2, 3, 4];
  if ((tag !== FORMAT_PCM && !float) || !allowed.includes(bytes) || bits > bytes * 8) {
    throw new FileProblem(
      `The WAV encoding (format ${tag}, ${bits} bit in ${bytes} bytes) is not one of 8 to 32-bit integer and 32 or 64-bit float.`,
    );
  }
  const kind = float ? "float" : bytes === 1 ? "unsigned" : "integer";
  return { channels, sampleRate, bits, layout, encoding: { kind, bytes: bytes as PcmEncoding["bytes"], bigEndian } };
}
