/** Repaired segments as the page's threads share them: in the browser's cache, and the last few in memory. */
import type { SegmentStore } from "@core/repair/repaired-source";
import { framesOf, type Planar } from "@core/audio/units";

const CACHE = "resonum-repairs";
/** Kept in memory by each thread. */
const MEMORY_BYTES = 48 * 2 ** 20;
/** Kept in the browser's cache; then the older half goes. */
const MOST_BYTES = 2 ** 30;

/** What a recording is known by: its file is named by its content. */
export const contentHashOf = (url: string): string => url.slice(url.lastIndexOf("/") + 1);

const addressOf = (key: string): string => `/repaired/${key}`;

/** Planes one after the other, behind their number. */
function encoded(block: Planar): ArrayBuffer {
  const frames = framesOf(block);
  const bytes = new ArrayBuffer(4 + 4 * frames * block.length);
  new DataView(bytes).setUint32(0, block.length, true);
  block.forEach((x, c) => new Float32Array(bytes, 4 + 4 * frames * c, frames).set(x));
  return bytes;
}

function decoded(bytes: ArrayBuffer): Planar {
  const channels = new DataView(bytes).getUint32(0, true);
  const frames = (bytes.byteLength - 4) / 4 / channels;
  return Array.from({ length: channels }, (_, c) => new Float32Array(bytes, 4 + 4 * frames * c, frames));
}

export class RepairCache implements SegmentStore {
  readonly #memory = new Map<string, Planar>();
  readonly #missing = new Set<string>();
  #memoryBytes = 0;
  #written = 0;
  #writing: Promise<unknown> = Promise.resolve();

  async get(key: string): Promise<Planar | undefined> {
    const known = this.#memory.get(key);
    if (known) return known;
    if (this.#missing.has(key)) return undefined;
    try {
      const answer = await (await caches.open(CACHE)).match(addressOf(key));
      if (answer) {
        const block = decoded(await answer.arrayBuffer());
        this.#remember(key, block);
        return block;
      }
    } catch {
      // Without a cache everything is made where it is wanted.
    }
    this.#missing.add(key);
    return undefined;
  }

  put(key: string, block: Planar): void {
    this.#missing.delete(key);
    this.#remember(key, block);
    this.#writing = this.#writing.then(() => this.#write(key, block)).catch(() => undefined);
  }

  /** Resolves when all that was put can be had by others. */
  async settled(): Promise<void> {
    await this.#writing;
  }

  /** What was missing may be there by now. */
  lookAgain(): void {
    this.#missing.clear();
  }

  #remember(key: string, block: Planar): void {
    this.#memory.set(key, block);
    this.#memoryBytes += 4 * framesOf(block) * block.length;
    for (const [oldest, held] of this.#memory) {
      if (this.#memoryBytes <= MEMORY_BYTES || oldest === key) break;
      this.#memory.delete(oldest);
      this.#memoryBytes -= 4 * framesOf(held) * held.length;
    }
  }

  async #write(key: string, block: Planar): Promise<void> {
    const cache = await caches.open(CACHE);
    const bytes = encoded(block);
    await cache.put(addressOf(key), new Response(bytes));
    this.#written += bytes.byteLength;
    if (this.#written < MOST_BYTES / 2) return;
    this.#written = 0;
    const kept = await cache.keys();
    await Promise.all(kept.slice(0, kept.length >> 1).map((request) => cache.delete(request)));
  }
}
