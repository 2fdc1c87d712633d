/** What a master says of itself: title, people, codes, chapters. Each kind of file has its own way to carry them. */
import * as z from "zod";
import type { Seconds } from "../signal/units";

const words = z.string().trim().max(400);

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
  const digits = [...code.padStart(13, "0")].map(Number);
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
  chapters: z.array(chapterSchema).max(2000).default([]),
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
