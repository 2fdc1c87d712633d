/** Tags as ID3v2.4 in UTF-8, with chapters (ID3v2 Chapter Frame Addendum 1.0): as AIFF carries them. */
import type { Seconds } from "../audio/units";
import { ascii, view } from "./chunk-bytes";
import { chapterSpans, parseTags, type Tags, type ParsedTags } from "./tags";
import { fromUtf8, utf8 } from "../math/utf8";

const TEXT_FRAMES = {
  title: "TIT2",
  artist: "TPE1",
  album: "TALB",
  albumArtist: "TPE2",
  composer: "TCOM",
  publisher: "TPUB",
  genre: "TCON",
  date: "TDRC",
  isrc: "TSRC",
} as const satisfies Partial<Record<keyof Tags, string>>;
/** What ID3 has no frame for is told by name. */
const NAMED = { barcode: "BARCODE", catalogue: "CATALOGNUMBER" } as const;

const UTF8 = 3;
const HEADER = 10;

const join = (...parts: Uint8Array[]): Uint8Array => {
  const all = new Uint8Array(parts.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const part of parts) {
    all.set(part, at);
    at += part.length;
  }
  return all;
};

/** Sizes are written seven bits a byte. */
const sevens = (n: number): number[] => [(n >> 21) & 127, (n >> 14) & 127, (n >> 7) & 127, n & 127];
const fromSevens = (bytes: Uint8Array, at: number): number =>
  (bytes[at]! << 21) | (bytes[at + 1]! << 14) | (bytes[at + 2]! << 7) | bytes[at + 3]!;

const frame = (id: string, body: Uint8Array): Uint8Array =>
  join(utf8(id), Uint8Array.from([...sevens(body.length), 0, 0]), body);
const textFrame = (id: string, words: string): Uint8Array => frame(id, join(Uint8Array.of(UTF8), utf8(words)));

function chapterFrames({ chapters }: Tags, duration: Seconds): Uint8Array[] {
  if (chapters.length === 0) return [];
  const milliseconds = (seconds: Seconds): Uint8Array => {
    const bytes = new Uint8Array(4);
    view(bytes).setUint32(0, Math.round(seconds * 1000));
    return bytes;
  };
  const unused = Uint8Array.from({ length: 8 }, () => 0xff);
  const ids = chapters.map((_, i) => utf8(`chp${i}\0`));
  const contents = frame(
    "CTOC",
    join(utf8("toc\0"), Uint8Array.of(3, Math.min(255, chapters.length)), ...ids.slice(0, 255)),
  );
  const each = chapterSpans(chapters, duration).map(({ title, startSeconds, endSeconds }, i) =>
    frame(
      "CHAP",
      join(ids[i]!, milliseconds(startSeconds), milliseconds(endSeconds), unused, textFrame("TIT2", title)),
    ),
  );
  return [contents, ...each];
}

/** The tag, ready to be put into a chunk or before a file. */
export function id3v2(tags: Tags, duration: Seconds): Uint8Array {
  const frames: Uint8Array[] = [];
  for (const [name, id] of Object.entries(TEXT_FRAMES)) {
    const value = tags[name as keyof typeof TEXT_FRAMES];
    if (value) frames.push(textFrame(id, value));
  }
  if (tags.track) frames.push(textFrame("TRCK", tags.tracks ? `${tags.track}/${tags.tracks}` : String(tags.track)));
  for (const [name, label] of Object.entries(NAMED)) {
    const value = tags[name as keyof typeof NAMED];
    if (value) frames.push(textFrame("TXXX", `${label}\0${value}`));
  }
  if (tags.comment) frames.push(frame("COMM", join(Uint8Array.of(UTF8), utf8("eng\0"), utf8(tags.comment))));
  frames.push(...chapterFrames(tags, duration));
  const body = join(...frames);
  return join(utf8("ID3"), Uint8Array.of(4, 0, 0), Uint8Array.from(sevens(body.length)), body);
}

interface Frame {
  id: string;
  body: Uint8Array;
}

function framesIn(bytes: Uint8Array, from: number, to: number): Frame[] {
  const frames: Frame[] = [];
  for (let at = from; at + HEADER <= to && bytes[at] !== 0;) {
    const size = fromSevens(bytes, at + 4);
    const end = Math.min(to, at + HEADER + size);
    frames.push({ id: ascii(bytes, at), body: bytes.subarray(at + HEADER, end) });
    at = end;
  }
  return frames;
}

const textOf = ({ body }: Frame): string => fromUtf8(body.subarray(1)).replace(/\0+$/, "");

/** Tags of an ID3v2.4 tag as it is written here; what it does not know, and frames that are cut short, it leaves out. */
export function readId3v2(bytes: Uint8Array): ParsedTags {
  const tags: Partial<Record<keyof Tags, unknown>> = {};
  if (bytes.length < HEADER || ascii(bytes, 0).slice(0, 3) !== "ID3") return parseTags({});
  const names = new Map(
    Object.entries(TEXT_FRAMES).map(([name, id]) => [id as string, name as keyof typeof TEXT_FRAMES]),
  );
  const chapters: { title: string; startSeconds: number }[] = [];
  for (const one of framesIn(bytes, HEADER, Math.min(bytes.length, HEADER + fromSevens(bytes, 6)))) {
    const name = names.get(one.id);
    if (name) tags[name] = textOf(one);
    else if (one.id === "TRCK") [tags.track, tags.tracks = 0] = textOf(one).split("/").map(Number);
    else if (one.id === "COMM") tags.comment = fromUtf8(one.body.subarray(5));
    else if (one.id === "TXXX") {
      const [label, value] = textOf(one).split("\0");
      if (label === NAMED.barcode) tags.barcode = value ?? "";
      if (label === NAMED.catalogue) tags.catalogue = value ?? "";
    } else if (one.id === "CHAP") {
      const at = one.body.indexOf(0) + 1;
      if (at === 0 || at + 16 > one.body.length) continue;
      const [title] = framesIn(one.body, at + 16, one.body.length);
      chapters.push({ title: title ? textOf(title) : "", startSeconds: view(one.body).getUint32(at) / 1000 });
    }
  }
  return parseTags({ ...tags, chapters });
}
