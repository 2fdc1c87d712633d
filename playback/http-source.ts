import type { ByteSource } from "@core/files/bytes";

const KEPT_BYTES = 32 * 2 ** 20;

export interface HttpSourceOptions {
  /** Fetched at a time: much for what is read through, little for places far apart. */
  chunkBytes?: number;
  /** Chunks fetched ahead of what was read. */
  ahead?: number;
}

/** Bytes of a resource by HTTP range, in chunks that are kept for a while. */
export async function httpSource(
  url: string,
  { chunkBytes = 1 << 19, ahead = 1 }: HttpSourceOptions = {},
): Promise<ByteSource> {
  const size = await sizeOf(url);
  const chunks = new Map<number, Promise<Uint8Array>>();

  const load = (index: number): Promise<Uint8Array> => {
    const known = chunks.get(index);
    if (known) {
      chunks.delete(index); // to the end: the least used goes first
      chunks.set(index, known);
      return known;
    }
    const start = index * chunkBytes;
    const loading = fetchRange(url, start, Math.min(size, start + chunkBytes));
    chunks.set(index, loading);
    loading.catch(() => chunks.delete(index));
    for (const oldest of chunks.keys()) {
      if (chunks.size * chunkBytes <= KEPT_BYTES) break;
      chunks.delete(oldest);
    }
    return loading;
  };

  return {
    size,
    async read(offset, length) {
      const end = Math.min(size, offset + length);
      if (end <= offset) return new Uint8Array(0);
      const first = Math.floor(offset / chunkBytes);
      const last = Math.floor((end - 1) / chunkBytes);
      const wanted = Array.from({ length: last - first + 1 }, (_, i) => load(first + i));
      // What comes next.
      for (let next = last + 1; next <= last + ahead && next * chunkBytes < size; next++)
        void load(next).catch(() => undefined);
      const parts = await Promise.all(wanted);
      if (parts.length === 1) return parts[0]!.slice(offset - first * chunkBytes, end - first * chunkBytes);
      const bytes = new Uint8Array(end - offset);
      parts.forEach((part, i) => {
        const start = (first + i) * chunkBytes;
        const from = Math.max(0, offset - start);
        const to = Math.min(part.length, end - start);
        bytes.set(part.subarray(from, to), start + from - offset);
      });
      return bytes;
    },
  };
}

/** The same bytes without chunks: each reading is one request. For large parts that are read once. */
export const plainHttpSource = (url: string, size: number): ByteSource => ({
  size,
  read: (offset, length) => fetchRange(url, offset, Math.min(size, offset + length)),
});

async function sizeOf(url: string): Promise<number> {
  const response = await fetch(url, { headers: { Range: "bytes=0-0" } });
  const total = /\/(\d+)$/.exec(response.headers.get("Content-Range") ?? "")?.[1];
  await response.arrayBuffer();
  if (!total) throw new Error(`${url} does not answer by ranges (${response.status})`);
  return Number(total);
}

async function fetchRange(url: string, start: number, end: number): Promise<Uint8Array> {
  if (end <= start) return new Uint8Array(0);
  const response = await fetch(url, { headers: { Range: `bytes=${start}-${end - 1}` } });
  if (response.status !== 206) throw new Error(`The server gave ${response.status} for a part of the sound.`);
  return new Uint8Array(await response.arrayBuffer());
}
