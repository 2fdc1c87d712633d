/** What a picture is, by its first bytes. */
/** First bytes of the formats that every browser shows. */
const FORMATS: { type: string; matches: (bytes: Uint8Array) => boolean }[] = [
  { type: "image/jpeg", matches: (b) => b[0] === 0xff && b[1] === 0xd8 && b[2] === 0xff },
  { type: "image/png", matches: (b) => b[0] === 0x89 && ascii(b, 1, 4) === "PNG" },
  { type: "image/webp", matches: (b) => ascii(b, 0, 4) === "RIFF" && ascii(b, 8, 12) === "WEBP" },
];

const ascii = (bytes: Uint8Array, from: number, to: number): string => String.fromCharCode(...bytes.slice(from, to));

/** The media type; `undefined` for what is no picture that every browser shows. */
export const imageFormatOf = (bytes: Uint8Array): string | undefined =>
  FORMATS.find(({ matches }) => matches(bytes))?.type;

/** The extension of files of such a type. */
export const extensionOf = (type: string): string => (type === "image/jpeg" ? "jpg" : type.slice("image/".length));
