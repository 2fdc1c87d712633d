/** Reading and writing the small pieces that chunked formats are made of. */

export const ascii = (bytes: Uint8Array, at: number): string => String.fromCharCode(...bytes.subarray(at, at + 4));

export const view = (bytes: Uint8Array): DataView => new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);

/** Bytes as text, each a character: what is looked for in it is ASCII. */
export function text(bytes: Uint8Array): string {
  let all = "";
  for (let at = 0; at < bytes.length; at += 8192) all += String.fromCharCode(...bytes.subarray(at, at + 8192));
  return all;
}

/** A little-endian record written field by field. */
export class ByteWriter {
  #bytes: number[] = [];

  ascii(text: string, width = text.length): this {
    for (let i = 0; i < width; i++) this.#bytes.push(i < text.length ? text.charCodeAt(i) & 0x7f : 0);
    return this;
  }

  u16(value: number): this {
    return this.#little(value, 2);
  }

  u32(value: number): this {
    return this.#little(value, 4);
  }

  u64(value: number): this {
    return this.u32(value % 4294967296).u32(Math.floor(value / 4294967296));
  }

  zeros(count: number): this {
    for (let i = 0; i < count; i++) this.#bytes.push(0);
    return this;
  }

  raw(bytes: Uint8Array): this {
    for (const byte of bytes) this.#bytes.push(byte);
    return this;
  }

  done(): Uint8Array {
    return Uint8Array.from(this.#bytes);
  }

  #little(value: number, width: number): this {
    for (let i = 0; i < width; i++) this.#bytes.push((value >>> (8 * i)) & 0xff);
    return this;
  }
}
