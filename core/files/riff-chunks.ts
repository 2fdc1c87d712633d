/** Chunks of WAV that say what the sound is: LIST/INFO, iXML, and chapters as `cue ` with their labels. */
import { timeReferenceOf } from "./broadcast-extension";
import { XMLParser } from "fast-xml-parser";
import type { Hertz } from "../audio/units";
import { ByteWriter, view } from "./chunk-bytes";
import { parseTags, type Tags, type ParsedTags } from "./tags";
import { fromUtf8, utf8 } from "../math/utf8";

const INFO = {
  title: "INAM",
  artist: "IART",
  album: "IPRD",
  genre: "IGNR",
  date: "ICRD",
  comment: "ICMT",
  isrc: "ISRC",
} as const satisfies Partial<Record<keyof Tags, string>>;
const TRACK = "ITRK";

/** A chunk with its header, padded to an even length. */
export function chunk(id: string, body: Uint8Array): Uint8Array {
  const writer = new ByteWriter().ascii(id, 4).u32(body.length).raw(body);
  return (body.length % 2 === 1 ? writer.zeros(1) : writer).done();
}

const terminated = (text: string): Uint8Array => new ByteWriter().raw(utf8(text)).zeros(1).done();

function infoChunk(tags: Tags): Uint8Array {
  const list = new ByteWriter().ascii("INFO");
  for (const [name, id] of Object.entries(INFO)) {
    const value = tags[name as keyof typeof INFO];
    if (value) list.raw(chunk(id, terminated(value)));
  }
  if (tags.track) list.raw(chunk(TRACK, terminated(String(tags.track))));
  return chunk("LIST", list.done());
}

export const xmlEscaped = (text: string): string =>
  text.replace(/[&<>"']/g, (character) => `&#${character.charCodeAt(0)};`);

/** iXML has few words of its own for music: the rest goes into its user fields, each with its name. */
function ixmlChunk(tags: Tags, { sampleRate }: { sampleRate: Hertz }): Uint8Array {
  const field = (name: string, value: string | number) =>
    value === "" || value === 0 ? "" : `<${name}>${xmlEscaped(String(value))}</${name}>`;
  const user = [
    field("TITLE", tags.title),
    field("ARTIST", tags.artist),
    field("ALBUM_ARTIST", tags.albumArtist),
    field("COMPOSER", tags.composer),
    field("PUBLISHER", tags.publisher),
    field("BARCODE", tags.barcode),
    field("CATALOGUE", tags.catalogue),
    field("ISRC", tags.isrc),
    field("TRACKS", tags.tracks),
  ].join("");
  const body = `<?xml version="1.0" encoding="UTF-8"?><BWFXML><IXML_VERSION>2.10</IXML_VERSION>${field("PROJECT", tags.album)}${field("TAKE", tags.track)}${field("NOTE", tags.comment)}<SPEED><FILE_SAMPLE_RATE>${sampleRate}</FILE_SAMPLE_RATE></SPEED><USER>${user}</USER></BWFXML>`;
  return chunk("iXML", utf8(body));
}

function cueChunks({ chapters }: Tags, sampleRate: Hertz): Uint8Array {
  if (chapters.length === 0) return new Uint8Array(0);
  const cue = new ByteWriter().u32(chapters.length);
  const labels = new ByteWriter().ascii("adtl");
  chapters.forEach(({ title, startSeconds }, i) => {
    const frame = Math.round(startSeconds * sampleRate);
    cue
      .u32(i + 1)
      .u32(frame)
      .ascii("data")
      .u32(0)
      .u32(0)
      .u32(frame);
    labels.raw(
      chunk(
        "labl",
        new ByteWriter()
          .u32(i + 1)
          .raw(terminated(title))
          .done(),
      ),
    );
  });
  return new ByteWriter().raw(chunk("cue ", cue.done())).raw(chunk("LIST", labels.done())).done();
}

/** All chunks that tell the tags, one after the other. */
export const tagChunks = (tags: Tags, sampleRate: Hertz): Uint8Array =>
  new ByteWriter().raw(infoChunk(tags)).raw(ixmlChunk(tags, { sampleRate })).raw(cueChunks(tags, sampleRate)).done();

const until0 = (bytes: Uint8Array): string => {
  const end = bytes.indexOf(0);
  return fromUtf8(end < 0 ? bytes : bytes.subarray(0, end));
};

function* chunksIn(bytes: Uint8Array, from: number): Generator<{ id: string; body: Uint8Array }> {
  for (let at = from; at + 8 <= bytes.length;) {
    const size = view(bytes).getUint32(at + 4, true);
    yield { id: String.fromCharCode(...bytes.subarray(at, at + 4)), body: bytes.subarray(at + 8, at + 8 + size) };
    at += 8 + size + (size % 2);
  }
}

/** Gathers tags from the chunks of a file as they come by. */
export class TagReader {
  readonly #tags: Partial<Tags> = {};
  readonly #cues = new Map<number, { startSeconds: number; title: string }>();

  constructor(readonly sampleRate: Hertz) {}

  /** Whether the chunk may say something. */
  static wants = (id: string): boolean => ["LIST", "iXML", "cue ", "bext"].includes(id);

  take(id: string, body: Uint8Array): void {
    if (id === "iXML") this.#takeIxml(fromUtf8(body));
    else if (id === "cue ") this.#takeCues(body);
    else if (id === "LIST") this.#takeList(body);
    else if (id === "bext") this.#takeTimeReference(body);
  }

  #takeTimeReference(body: Uint8Array): void {
    const frames = timeReferenceOf(body);
    if (frames > 0) this.#tags.startSeconds = frames / this.sampleRate;
  }

  #takeList(body: Uint8Array): void {
    const kind = String.fromCharCode(...body.subarray(0, 4));
    const names = new Map(Object.entries(INFO).map(([name, id]) => [id as string, name as keyof typeof INFO]));
    for (const { id, body: inner } of chunksIn(body, 4)) {
      const name = names.get(id);
      if (kind === "INFO" && name) this.#tags[name] ??= until0(inner);
      else if (kind === "INFO" && id === TRACK) this.#tags.track ??= Number(until0(inner)) || 0;
      else if (kind === "adtl" && id === "labl" && inner.length >= 4) {
        const cue = this.#cues.get(view(inner).getUint32(0, true));
        if (cue) cue.title = until0(inner.subarray(4));
      }
    }
  }

  #takeCues(body: Uint8Array): void {
    const points = view(body);
    for (let at = 4; at + 24 <= body.length; at += 24)
      this.#cues.set(points.getUint32(at, true), {
        startSeconds: points.getUint32(at + 20, true) / this.sampleRate,
        title: "",
      });
  }

  #takeIxml(xml: string): void {
    const parser = new XMLParser({ parseTagValue: false, htmlEntities: true });
    let root: Record<string, unknown>;
    try {
      root = (parser.parse(xml) as { BWFXML?: Record<string, unknown> }).BWFXML ?? {};
    } catch {
      return; // what is no XML says nothing
    }
    const user = (typeof root.USER === "object" && root.USER !== null ? root.USER : {}) as Record<string, unknown>;
    const word = (value: unknown): string => (typeof value === "string" ? value : "");
    Object.assign(this.#tags, {
      albumArtist: word(user.ALBUM_ARTIST),
      composer: word(user.COMPOSER),
      publisher: word(user.PUBLISHER),
      barcode: word(user.BARCODE),
      catalogue: word(user.CATALOGUE),
      tracks: Number(word(user.TRACKS)) || 0,
    });
  }

  /** What was told. */
  told(): ParsedTags {
    const chapters = [...this.#cues.values()].sort((a, b) => a.startSeconds - b.startSeconds);
    return parseTags({ ...this.#tags, chapters });
  }
}
