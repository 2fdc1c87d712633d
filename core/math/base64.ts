const ALPHABET = "ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/";

/** Bytes of base64 text (RFC 4648); the core knows no platform's `atob`. */
export function fromBase64(text: string): Uint8Array {
  const digits = text.replace(/=+$/, "");
  const bytes = new Uint8Array(Math.floor((digits.length * 3) / 4));
  let bits = 0;
  let held = 0;
  let at = 0;
  for (const digit of digits) {
    held = (held << 6) | ALPHABET.indexOf(digit);
    bits += 6;
    if (bits >= 8) {
      bits -= 8;
      bytes[at++] = (held >> bits) & 0xff;
    }
  }
  return bytes;
}

export function toBase64(bytes: Uint8Array): string {
  let text = "";
  for (let i = 0; i < bytes.length; i += 3) {
    const held = (bytes[i]! << 16) | ((bytes[i + 1] ?? 0) << 8) | (bytes[i + 2] ?? 0);
    for (let digit = 0; digit < 4; digit++)
      text += i + digit > bytes.length ? "=" : ALPHABET[(held >> (18 - 6 * digit)) & 63]!;
  }
  return text;
}
