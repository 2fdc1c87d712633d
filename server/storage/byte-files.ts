import { createHash } from "node:crypto";
import { createReadStream } from "node:fs";
import { open, type FileHandle } from "node:fs/promises";
import type { ByteSink, ByteSource } from "@core/files/bytes";

export interface OpenFile extends ByteSource {
  close(): Promise<void>;
}

/** A file on disk as the core reads it. */
export async function openFile(path: string): Promise<OpenFile> {
  const handle = await open(path, "r");
  const { size } = await handle.stat();
  return {
    size,
    async read(offset, length) {
      const wanted = Math.max(0, Math.min(length, size - offset));
      const bytes = Buffer.allocUnsafe(wanted);
      let done = 0;
      while (done < wanted) {
        const { bytesRead } = await handle.read(bytes, done, wanted - done, offset + done);
        if (bytesRead === 0) break;
        done += bytesRead;
      }
      // A copy of its own: views on it may need any alignment.
      return new Uint8Array(bytes.buffer, bytes.byteOffset, done);
    },
    close: () => handle.close(),
  };
}

const BUFFER_BYTES = 1 << 20;
/** So often the room that is left is looked at. */
const ROOM_EVERY_BYTES = 64 << 20;

/** A sink into a new file: small writes are gathered, `sync` puts everything on the disk. */
export class FileSink implements ByteSink {
  #position = 0;
  #pending: Uint8Array[] = [];
  #pendingBytes = 0;
  #roomAt = 0;

  private constructor(
    readonly handle: FileHandle,
    readonly keepRoom: (() => Promise<void>) | undefined,
  ) {}

  /** @param keepRoom throws where the disk has no room left; asked at the beginning and now and then */
  static async create(path: string, keepRoom?: () => Promise<void>): Promise<FileSink> {
    return new FileSink(await open(path, "wx+"), keepRoom);
  }

  async write(bytes: Uint8Array): Promise<void> {
    this.#pending.push(bytes);
    this.#pendingBytes += bytes.length;
    if (this.#pendingBytes >= BUFFER_BYTES) await this.#flush();
  }

  async patch(offset: number, bytes: Uint8Array): Promise<void> {
    await this.#flush();
    await this.handle.write(bytes, 0, bytes.length, offset);
  }

  async #flush(): Promise<void> {
    const parts = this.#pending;
    const bytes = this.#pendingBytes;
    this.#pending = [];
    this.#pendingBytes = 0;
    if (parts.length === 0) return;
    if (this.keepRoom && this.#position >= this.#roomAt) {
      await this.keepRoom();
      this.#roomAt = this.#position + ROOM_EVERY_BYTES;
    }
    let offset = this.#position;
    this.#position += bytes;
    const whole = parts.length === 1 ? parts[0]! : Buffer.concat(parts);
    for (let done = 0; done < whole.length;) {
      const { bytesWritten } = await this.handle.write(whole, done, whole.length - done, offset);
      done += bytesWritten;
      offset += bytesWritten;
    }
  }

  async sync(): Promise<void> {
    await this.#flush();
    await this.handle.sync();
  }

  async close(): Promise<void> {
    await this.handle.close();
  }
}

/** SHA-256 and size of a file. */
export async function hashFile(path: string): Promise<{ hash: string; bytes: number }> {
  const hash = createHash("sha256");
  let bytes = 0;
  for await (const chunk of createReadStream(path, { highWaterMark: 1 << 20 })) {
    hash.update(chunk as Buffer);
    bytes += (chunk as Buffer).length;
  }
  return { hash: hash.digest("hex"), bytes };
}
