/** Answers fetches of byte ranges from memory, as the server does: for tests only. */

export interface RangeServer {
  /** Ranges asked for so far, by address. */
  asked: { url: string; start: number; end: number }[];
  /** Answers with this status from now on, when it is set. */
  failWith: number | null;
  fetch(url: string, options?: { headers?: Record<string, string> }): Promise<RangeAnswer>;
}

interface RangeAnswer {
  status: number;
  headers: { get(name: string): string | null };
  arrayBuffer(): Promise<ArrayBuffer>;
}

export function rangeServer(resources: Record<string, Uint8Array>): RangeServer {
  const server: RangeServer = {
    asked: [],
    failWith: null,
    async fetch(url, options) {
      const bytes = resources[url] ?? new Uint8Array(0);
      const match = /bytes=(\d+)-(\d+)/.exec(options?.headers?.["Range"] ?? "");
      const start = Number(match?.[1] ?? 0);
      const end = Math.min(bytes.length, Number(match?.[2] ?? 0) + 1);
      server.asked.push({ url, start, end });
      const headers = new Map([["Content-Range", `bytes ${start}-${end - 1}/${bytes.length}`]]);
      return {
        status: server.failWith ?? 206,
        headers: { get: (name) => headers.get(name) ?? null },
        arrayBuffer: async () => bytes.slice(start, end).buffer as ArrayBuffer,
      };
    },
  };
  return server;
}
