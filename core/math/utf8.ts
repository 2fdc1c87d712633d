/** UTF-8 there and back: the core knows no TextEncoder. */

const UTF8_REPLACEMENT = 0xfffd;

/** Text as UTF-8. */
export function utf8(text: string): Uint8Array {
  const bytes: number[] = [];
  for (const character of text) {
    let code = character.codePointAt(0)!;
    if (code >= 0xd800 && code <= 0xdfff) code = UTF8_REPLACEMENT;
    if (code < 0x80) bytes.push(code);
    else if (code < 0x800) bytes.push(0xc0 | (code >> 6), 0x80 | (code & 63));
    else if (code < 0x10000) bytes.push(0xe0 | (code >> 12), 0x80 | ((code >> 6) & 63), 0x80 | (code & 63));
    else bytes.push(0xf0 | (code >> 18), 0x80 | ((code >> 12) & 63), 0x80 | ((code >> 6) & 63), 0x80 | (code & 63));
  }
  return Uint8Array.from(bytes);
}

/** UTF-8 as text; what is none becomes the replacement sign. */
export function fromUtf8(bytes: Uint8Array): string {
  let text = "";
  for (let i = 0; i < bytes.length;) {
    const first = bytes[i]!;
    const length = first < 0x80 ? 1 : first >> 5 === 6 ? 2 : first >> 4 === 14 ? 3 : first >> 3 === 30 ? 4 : 0;
    let code = length === 1 ? first : length ? first & (0x7f >> length) : UTF8_REPLACEMENT;
    let whole = length > 0 && i + length <= bytes.length;
    for (let k = 1; whole && k < length; k++) {
      const next = bytes[i + k]!;
      if (next >> 6 !== 2) whole = false;
      code = (code << 6) | (next & 63);
    }
    text += String.fromCodePoint(whole && code <= 0x10ffff ? code : UTF8_REPLACEMENT);
    i += whole ? length : 1;
  }
  return text;
}
