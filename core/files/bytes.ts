/** Random access to bytes, wherever they are: a file, an HTTP resource, memory. */
export interface ByteSource {
  readonly size: number;
  /** The bytes from `offset`; fewer than `length` only at the end. */
  read(offset: number, length: number): Promise<Uint8Array>;
}

/** Where a writer puts bytes: appended in order, and headers patched at the end. */
export interface ByteSink {
  write(bytes: Uint8Array): Promise<void>;
  patch(offset: number, bytes: Uint8Array): Promise<void>;
}

export function memorySource(bytes: Uint8Array): ByteSource {
  return {
    size: bytes.length,
    read: async (offset, length) => bytes.subarray(offset, Math.min(bytes.length, offset + length)),
  };
}

/** A sink in memory, for tests and small files. */
export class MemorySink implements ByteSink {
  #parts: Uint8Array[] = [];
  #size = 0;

  async write(bytes: Uint8Array): Promise<void> {
    this.#parts.push(bytes.slice());
    this.#size += bytes.length;
  }

  async patch(offset: number, bytes: Uint8Array): Promise<void> {
    const all = this.bytes();
    all.set(bytes, offset);
    this.#parts = [all];
  }

  bytes(): Uint8Array {
    const all = new Uint8Array(this.#size);
    let offset = 0;
    for (const part of this.#parts) {
      all.set(part, offset);
      offset += part.length;
    }
    return all;
  }
}

/** What was wrong with a file, where, and what can be done: a sentence for the person who chose it. */
export class FileProblem extends Error {
  override name = "FileProblem";
}
