/** What a master says of itself: title, people, codes, chapters. Each kind of file has its own way to carry them. */
import * as z from "zod";
import type { Seconds } from "../audio/units";

const MAX_WORDS = 400;
const MAX_CHAPTERS = 2000;
const words = z.string().trim().max(MAX_WORDS);

/** ISRC by ISO 3901, without hyphens. */
export const isrcSchema = z
  .string()
  .trim()
  .transform((code) => code.replaceAll("-", "").toUpperCase())
  .refine((code) => code === "" || /^[A-Z]{2}[A-Z0-9]{3}\d{7}$/.test(code), {
    error: "an ISRC is two letters, three letters or digits, and seven digits: QZ-S1H-26-00001",
  });

/** EAN-13 or UPC-A with the right check digit. */
export const barcodeSchema = z
  .string()
  .trim()
  .refine((code) => code === "" || (/^\d{12,13}$/.test(code) && checkDigitFits(code)), {
    error: "a barcode has 12 or 13 digits, and its last one must fit the others",
  });

function checkDigitFits(code: string): boolean {
  const digits = Array.from(code.padStart(13, "0"), Number);
  const sum = digits.reduce((total, digit, i) => total + digit * (i % 2 === 0 ? 1 : 3), 0);
  return sum % 10 === 0;
}

export const chapterSchema = z.strictObject({ title: words, startSeconds: z.number().nonnegative() });
export type Chapter = z.infer<typeof chapterSchema>;

export const tagsSchema = z.strictObject({
  title: words.default(""),
  artist: words.default(""),
  album: words.default(""),
  albumArtist: words.default(""),
  composer: words.default(""),
  publisher: words.default(""),
  genre: words.default(""),
  /** Year or date of release: "2026", "2026-11-26". */
  date: z
    .string()
    .trim()
    .regex(/^(\d{4}(-\d{2}(-\d{2})?)?)?$/, "a year, or a date as 2026-11-26")
    .default(""),
  isrc: isrcSchema.default(""),
  barcode: barcodeSchema.default(""),
  catalogue: words.default(""),
  comment: words.default(""),
  /** From 1; 0 where there is none. */
  track: z.number().int().nonnegative().default(0),
  tracks: z.number().int().nonnegative().default(0),
  chapters: z.array(chapterSchema).max(MAX_CHAPTERS).default([]),
  /** Start of the sound from midnight (time reference of EBU Tech 3285); absent where nothing tells it. */
  startSeconds: z.number().positive().max(172_800).optional(),
});
export type Tags = z.infer<typeof tagsSchema>;

/** Tags with nothing but what is given. */
export const newTags = (given: Partial<Tags> = {}): Tags => tagsSchema.parse(given);

/** Chapters with their ends: each lasts until the next. */
export const chapterSpans = (chapters: readonly Chapter[], duration: Seconds) =>
  chapters.map((chapter, i) => ({
    ...chapter,
    endSeconds: Math.max(chapter.startSeconds, chapters[i + 1]?.startSeconds ?? duration),
  }));

export interface ParsedTags {
  tags: Tags;
  /** What was shortened or left out: the original holds it still. */
  warnings: string[];
}

const NAMES: Readonly<Record<keyof Tags, string>> = {
  title: "title",
  artist: "artist",
  album: "album",
  albumArtist: "album artist",
  composer: "composer",
  publisher: "publisher",
  genre: "genre",
  date: "date",
  isrc: "ISRC",
  barcode: "barcode",
  catalogue: "catalogue number",
  comment: "comment",
  track: "track number",
  tracks: "number of tracks",
  chapters: "chapters",
  startSeconds: "timecode",
};

/** What no text field may hold. */
const NO_TEXT = /[\p{Cs}\u0000]/gu;

const shortened = (text: string): string =>
  text
    .replace(NO_TEXT, "")
    .trim()
    .slice(0, MAX_WORDS)
    .replace(/[\ud800-\udbff]$/, "");

/** Tags as a file tells them, of whatever kind and length: what is too long is shortened, what is broken left out. */
export function parseTags(given: Partial<Record<keyof Tags, unknown>>): ParsedTags {
  const warnings: string[] = [];
  const tags: Record<string, unknown> = {};
  for (const field of Object.keys(NAMES) as (keyof Tags)[]) {
    const value = given[field];
    if (value === undefined || value === "" || value === 0) continue;
    if (field === "chapters") {
      tags.chapters = toldChapters(value, warnings);
      continue;
    }
    const text = typeof value === "string" ? shortened(value) : value;
    if (typeof value === "string" && Array.from(value.trim()).length > MAX_WORDS)
      warnings.push(`The ${NAMES[field]} in the file has more than ${MAX_WORDS} characters and was shortened.`);
    const parsed = tagsSchema.shape[field].safeParse(text);
    if (parsed.success) tags[field] = parsed.data;
    else warnings.push(`The ${NAMES[field]} in the file is not as it should be and was left out.`);
  }
  return { tags: newTags(tags as Partial<Tags>), warnings };
}

function toldChapters(value: unknown, warnings: string[]): Chapter[] {
  const all = (Array.isArray(value) ? value : []).map(
    (one) => (one ?? {}) as { title?: unknown; startSeconds?: unknown },
  );
  const good = all.flatMap(({ title, startSeconds }): Chapter[] =>
    typeof startSeconds === "number" && Number.isFinite(startSeconds) && startSeconds >= 0
      ? [{ title: typeof title === "string" ? shortened(title) : "", startSeconds }]
      : [],
  );
  if (good.length < all.length)
    warnings.push(`${all.length - good.length} chapters in the file have no time and were left out.`);
  if (good.length > MAX_CHAPTERS)
    warnings.push(`The file has ${good.length} chapters or cue points; the first ${MAX_CHAPTERS} were taken.`);
  return good.slice(0, MAX_CHAPTERS);
}
