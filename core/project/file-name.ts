/** File names that every file system takes, whatever a title holds; and lists of them in which none is there twice. */

/** Longest name without its extension, bytes of UTF-8: 255 with room for an extension and a number. */
export const MAX_NAME_BYTES = 200;

const MAX_SHOWN = 200;

/** Signs that turn the direction of what follows, or are not seen (Unicode TR 36, 3.3): a name must look like what it is. */
const INVISIBLE = /[\u061c\u200b\u200e\u200f\u202a-\u202e\u2060-\u2064\u2066-\u2069\ufeff]/g;
/** Control characters, halves of surrogate pairs, and what stands for no character. */
const NO_CHARACTER = /[\p{Cc}\p{Cs}\u{fffe}\u{ffff}]+/gu;
/** Signs that mean something to a file system. */
const MEANT = /[/\\:*?"<>|]+/g;
/** Names of devices on some systems, with any extension. */
const RESERVED = /^(con|prn|aux|nul|com[0-9¹²³]|lpt[0-9¹²³])(?=\.|$)/i;

const graphemes = new Intl.Segmenter("und", { granularity: "grapheme" });

const utf8Bytes = (text: string): number => {
  let bytes = 0;
  for (const character of text) {
    const point = character.codePointAt(0)!;
    bytes += point < 0x80 ? 1 : point < 0x800 ? 2 : point < 0x10000 ? 3 : 4;
  }
  return bytes;
};

/** As much of a text as fits, whole characters as a person sees them. */
function shortened(text: string, maxBytes: number): string {
  if (utf8Bytes(text) <= maxBytes) return text;
  let bytes = 0;
  let end = 0;
  for (const { segment, index } of graphemes.segment(text)) {
    bytes += utf8Bytes(segment);
    if (bytes > maxBytes) break;
    end = index + segment.length;
  }
  return text.slice(0, end);
}

const trimmed = (name: string): string => name.replace(/^[. ]+|[. ]+$/g, "");

/** A name that every file system takes, of at most {@link MAX_NAME_BYTES} bytes; "master" where nothing is left of it. */
export function fileName(title: string, maxBytes = MAX_NAME_BYTES): string {
  const plain = title
    .normalize("NFC")
    .replace(/[−–—]/g, "-") // signs that look like ones of ASCII are those
    .replace(INVISIBLE, "")
    .replace(/\s+/gu, " ")
    .replace(NO_CHARACTER, "-")
    .replace(MEANT, "-");
  return trimmed(shortened(trimmed(plain), maxBytes)).replace(RESERVED, "_$1") || "master";
}

/** A file's name as it is shown: whatever it is called, in at most 200 characters, its extension kept. */
export function displayName(name: string): string {
  const clean = name.normalize("NFC").replace(INVISIBLE, "").replace(NO_CHARACTER, " ").trim();
  const extension = /\.[A-Za-z0-9]{1,8}$/.exec(clean)?.[0] ?? "";
  let stem = "";
  for (const { segment } of graphemes.segment(clean.slice(0, clean.length - extension.length))) {
    if (stem.length + segment.length + extension.length > MAX_SHOWN) break;
    stem += segment;
  }
  return `${stem.trim() || "recording"}${extension}`;
}

/** How names are compared by file systems that see no difference between capitals and small letters. */
export const nameKey = (name: string): string => name.normalize("NFC").toLowerCase();

/** The same names in the same order, none of them twice: those that come later get a number. */
export function distinctNames(names: readonly string[]): string[] {
  const used = new Set<string>();
  return names.map((name) => {
    const dot = name.lastIndexOf(".");
    const [stem, extension] = dot > 0 ? [name.slice(0, dot), name.slice(dot)] : [name, ""];
    let distinct = name;
    for (let n = 2; used.has(nameKey(distinct)); n++) distinct = `${stem} (${n})${extension}`;
    used.add(nameKey(distinct));
    return distinct;
  });
}
