/**
 * Container identification by magic numbers: what a file is, by its first bytes and never by its name. Only containers
 * that hold their sound themselves are known here. Playlists, edit scripts, session descriptions, subtitles and images
 * are refused by name: some of them make a demuxer open other files.
 */
import { FileProblem, type ByteSource } from "./bytes";

export interface ContainerKind {
  /** As a person calls it. */
  name: string;
  /** The one demuxer of ffmpeg that may read it. */
  demuxer: string;
}

/** Bytes that are looked at from the beginning, and again behind tags. */
const HEAD_BYTES = 4096;
/** How far a first frame of MPEG audio may lie behind what is no sound, bytes. */
const SYNC_SEARCH_BYTES = 128 * 1024;
/** Tags before the sound, one after the other. */
const MAX_LEADING_TAGS = 4;

const kind = (name: string, demuxer: string): ContainerKind => ({ name, demuxer });

const WAVE = kind("WAVE", "wav");
const QUICKTIME = kind("QuickTime", "mov");
const MP3 = kind("MP3", "mp3");
const ADTS = kind("AAC (ADTS)", "aac");

const latin = (bytes: Uint8Array, from = 0, to = bytes.length): string =>
  String.fromCharCode(...bytes.subarray(from, Math.min(to, bytes.length)));

interface Signature {
  /** Latin-1, compared at `offset`. */
  magic: string;
  offset?: number;
  kind: ContainerKind | ((head: Uint8Array) => ContainerKind | undefined);
}

const BRANDS: Readonly<Record<string, ContainerKind>> = {
  "qt  ": QUICKTIME,
  "M4A ": kind("MPEG-4 audio", "mov"),
  "M4B ": kind("MPEG-4 audiobook", "mov"),
};

const RIFF_FORMS: Readonly<Record<string, ContainerKind>> = { WAVE, "AVI ": kind("AVI", "avi") };

const riff = (head: Uint8Array) => RIFF_FORMS[latin(head, 8, 12)];

const SIGNATURES: readonly Signature[] = [
  { magic: "RIFF", kind: riff },
  { magic: "RF64", kind: riff },
  { magic: "BW64", kind: riff },
  { magic: "riff\x2e\x91\xcf\x11", kind: kind("Wave64", "w64") },
  { magic: "FORM", kind: (head) => (/^AIF[FC]$/.test(latin(head, 8, 12)) ? kind("AIFF", "aiff") : undefined) },
  { magic: "FRM8", kind: kind("DSDIFF", "iff") },
  { magic: "DSD ", kind: kind("DSF", "dsf") },
  { magic: "caff", kind: kind("Core Audio Format", "caf") },
  { magic: ".snd", kind: kind("AU", "au") },
  { magic: "fLaC", kind: kind("FLAC", "flac") },
  { magic: "OggS", kind: kind("Ogg", "ogg") },
  { magic: "wvpk", kind: kind("WavPack", "wv") },
  { magic: "TTA1", kind: kind("True Audio", "tta") },
  { magic: "#!AMR", kind: kind("AMR", "amr") },
  { magic: "ADIF", kind: kind("AAC (ADIF)", "aac") },
  { magic: "ftyp", offset: 4, kind: (head) => BRANDS[latin(head, 8, 12)] ?? kind("MP4", "mov") },
  ...["moov", "mdat", "wide", "free", "skip", "pnot"].map((atom) => ({ magic: atom, offset: 4, kind: QUICKTIME })),
  {
    magic: "\x1a\x45\xdf\xa3",
    kind: (head) => kind(latin(head, 0, 96).includes("webm") ? "WebM" : "Matroska", "matroska"),
  },
  { magic: "\x30\x26\xb2\x75\x8e\x66\xcf\x11", kind: kind("ASF", "asf") },
  { magic: "FLV\x01", kind: kind("Flash video", "flv") },
  { magic: "\x00\x00\x01\xba", kind: kind("MPEG program stream", "mpeg") },
  { magic: "\x06\x0e\x2b\x34\x02\x05\x01\x01\x0d\x01\x02", kind: kind("MXF", "mxf") },
  { magic: "\x0b\x77", kind: (head) => ((head[5] ?? 0) >> 3 > 10 ? kind("E-AC-3", "eac3") : kind("AC-3", "ac3")) },
  { magic: "\x7f\xfe\x80\x01", kind: kind("DTS", "dts") },
  { magic: "\xfe\x7f\x01\x80", kind: kind("DTS", "dts") },
];

/** What is no recording, by its first bytes or words, in a sentence for the person who chose it. */
const REFUSED: readonly { is: RegExp; words: string }[] = [
  {
    is: /^(#EXTM3U|\[playlist\]|<\?xml[^]{0,400}<(MPD|smil|playlist|asx)\b|<(MPD|smil|asx)\b|<\?wpl|ffconcat\s+version|ffconcat$)/i,
    words: "This is a playlist: it names other files and holds no sound itself. Add the recordings that it names.",
  },
  { is: /^v=0\r?\n/, words: "This is a session description of a stream: it holds no sound itself." },
  { is: /^(file|stream|duration|inpoint|outpoint)\s+\S/, words: "This is a script of file names: it holds no sound." },
  {
    is: /^(WEBVTT|\[Script Info\]|\d+\s*\r?\n\d\d:\d\d:\d\d[,.]\d{3}\s+-->|\{\d+\}\{\d+\}|;FFMETADATA)/,
    words: "These are subtitles or metadata: there is no sound in them.",
  },
  {
    is: /^(\x89PNG|\xff\xd8\xff|GIF8|BM[^]{4}\0\0\0\0|II\*\0|MM\0\*|RIFF[^]{4}WEBP|<svg|\0\0\0\x0cjP {2})/,
    words: "This is an image: there is no sound in it.",
  },
  {
    is: /^(%PDF|PK\x03\x04|\x1f\x8b|7z\xbc\xaf|Rar!|\xd0\xcf\x11\xe0|\x7fELF|MZ)/,
    words: "This is a document, an archive or a program: there is no sound in it. Unpack an archive first.",
  },
];

const isTextMark = (head: Uint8Array): number => (latin(head, 0, 3) === "\xef\xbb\xbf" ? 3 : 0);

/** @throws FileProblem where the bytes are of a kind that is no recording */
function refuse(head: Uint8Array): void {
  const text = latin(head, isTextMark(head), 1024).replace(/^[ \t\r\n]+/, "");
  const found = REFUSED.find(({ is }) => is.test(text));
  if (found) throw new FileProblem(found.words);
}

function bySignature(head: Uint8Array): ContainerKind | undefined {
  for (const { magic, offset = 0, kind: found } of SIGNATURES) {
    if (latin(head, offset, offset + magic.length) !== magic) continue;
    const answer = typeof found === "function" ? found(head) : found;
    if (answer) return answer;
  }
  return isTransportStream(head) ? kind("MPEG transport stream", "mpegts") : undefined;
}

/** Sync bytes at three packets, of 188 bytes or of 192 with their time stamps (ISO/IEC 13818-1, 2.4.3). */
const isTransportStream = (head: Uint8Array): boolean =>
  [188, 192].some((packet) => [0, 1, 2].every((n) => head[packet - 188 + n * packet] === 0x47));

/** kbit/s by version (MPEG-1 or later) and layer (ISO/IEC 11172-3, 2.4.2.3). */
const BITRATES: Readonly<Record<string, readonly number[]>> = {
  "1/1": [0, 32, 64, 96, 128, 160, 192, 224, 256, 288, 320, 352, 384, 416, 448],
  "1/2": [0, 32, 48, 56, 64, 80, 96, 112, 128, 160, 192, 224, 256, 320, 384],
  "1/3": [0, 32, 40, 48, 56, 64, 80, 96, 112, 128, 160, 192, 224, 256, 320],
  "2/1": [0, 32, 48, 56, 64, 80, 96, 112, 128, 144, 160, 176, 192, 224, 256],
  "2/2": [0, 8, 16, 24, 32, 40, 48, 56, 64, 80, 96, 112, 128, 144, 160],
  "2/3": [0, 8, 16, 24, 32, 40, 48, 56, 64, 80, 96, 112, 128, 144, 160],
};
const RATES = [44_100, 48_000, 32_000];

/** Length of the frame of MPEG audio that begins at `at`; 0 where none does. */
function mpegFrameBytes(bytes: Uint8Array, at: number): number {
  const [a, b = 0, c = 0] = bytes.subarray(at, at + 3);
  if (a !== 0xff || (b & 0xe0) !== 0xe0) return 0;
  const version = (b >> 3) & 3; // 3 is MPEG-1, 2 MPEG-2, 0 MPEG-2.5
  const layer = 4 - ((b >> 1) & 3);
  const rate = RATES[(c >> 2) & 3];
  const bitrateKbps = BITRATES[`${version === 3 ? 1 : 2}/${layer}`]?.[c >> 4];
  if (version === 1 || rate === undefined || !bitrateKbps) return 0;
  const hertz = version === 3 ? rate : version === 2 ? rate / 2 : rate / 4;
  const padding = (c >> 1) & 1;
  if (layer === 1) return (Math.floor((12_000 * bitrateKbps) / hertz) + padding) * 4;
  return Math.floor(((layer === 3 && version !== 3 ? 72_000 : 144_000) * bitrateKbps) / hertz) + padding;
}

/** Length of the ADTS frame that begins at `at` (ISO/IEC 13818-7, 6.2); 0 where none does. */
function adtsFrameBytes(bytes: Uint8Array, at: number): number {
  const [a, b = 0, , d = 0, e = 0, f = 0] = bytes.subarray(at, at + 6);
  if (a !== 0xff || (b & 0xf6) !== 0xf0) return 0;
  return ((d & 3) << 11) | (e << 3) | (f >> 5);
}

/** Two frames in a row, or one that ends with the file. */
function byFrames(bytes: Uint8Array, isWhole: boolean): ContainerKind | undefined {
  for (let at = 0; at + 6 < bytes.length; at++) {
    if (bytes[at] !== 0xff) continue;
    for (const [lengthAt, found] of [
      [mpegFrameBytes, MP3],
      [adtsFrameBytes, ADTS],
    ] as const) {
      const length = lengthAt(bytes, at);
      if (length < 8) continue;
      const next = at + length;
      if (lengthAt(bytes, next) >= 8 || (isWhole && next >= bytes.length)) return found;
    }
  }
  return undefined;
}

/** Bytes of the ID3v2 tag that the bytes begin with (ID3v2.4 structure, 3.1); 0 where there is none. */
function id3Bytes(head: Uint8Array): number {
  if (latin(head, 0, 3) !== "ID3") return 0;
  const [flags = 0, ...size] = head.subarray(5, 10);
  return 10 + size.reduce((sum, byte) => sum * 128 + (byte & 127), 0) + (flags & 0x10 ? 10 : 0);
}

/** What kind of container a file is. @throws FileProblem where it is none that holds sound itself */
export async function identifyContainer(source: ByteSource): Promise<ContainerKind> {
  let at = 0;
  for (let tags = 0; tags <= MAX_LEADING_TAGS; tags++) {
    const head = await source.read(at, HEAD_BYTES);
    const tag = id3Bytes(head);
    if (tag > 0) {
      at += tag;
      continue;
    }
    refuse(head);
    const found = bySignature(head);
    if (found) return found;
    const stretch = await source.read(at, SYNC_SEARCH_BYTES);
    const framed = byFrames(stretch, at + stretch.length >= source.size);
    if (framed) return framed;
    break;
  }
  throw new FileProblem("This does not look like a sound or video file, or it is damaged from the start.");
}
