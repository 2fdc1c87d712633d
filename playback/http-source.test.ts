import fc from "fast-check";
import { afterEach, describe, expect, it, vi } from "vitest";
import { rangeServer } from "@core/testing/range-server";
import { httpSource } from "./http-source";

const bytes = Uint8Array.from({ length: 1_700_003 }, (_, i) => (i * 31 + (i >> 9)) & 0xff);

afterEach(() => vi.unstubAllGlobals());

async function opened() {
  const server = rangeServer({ "/a": bytes });
  vi.stubGlobal("fetch", server.fetch);
  return { server, source: await httpSource("/a") };
}

describe("bytes over HTTP", () => {
  it("are those of the resource, wherever they are read", async () => {
    const { source } = await opened();
    expect(source.size).toBe(bytes.length);
    await fc.assert(
      fc.asyncProperty(fc.nat({ max: bytes.length + 10 }), fc.nat({ max: 1_200_000 }), async (offset, length) => {
        const read = await source.read(offset, length);
        expect(Buffer.from(read).equals(bytes.subarray(offset, Math.min(bytes.length, offset + length)))).toBe(true);
      }),
      { numRuns: 40 },
    );
  });
  it("are fetched once, and what comes next ahead of its time", async () => {
    const { server, source } = await opened();
    await source.read(0, 1000);
    await source.read(5000, 1000);
    const starts = server.asked.slice(1).map(({ start }) => start);
    expect(starts).toEqual([0, 524_288]);
  });
  it("are fetched in small pieces, and nothing ahead, where places lie far apart", async () => {
    const server = rangeServer({ "/a": bytes });
    vi.stubGlobal("fetch", server.fetch);
    const source = await httpSource("/a", { chunkBytes: 32_768, ahead: 0 });
    await source.read(1_000_000, 100);
    const asked = server.asked.slice(1);
    expect(asked.map(({ start }) => start)).toEqual([30 * 32_768]);
  });
  it("are asked for again after a failure, which says what the server gave", async () => {
    const { server, source } = await opened();
    server.failWith = 503;
    await expect(source.read(0, 10)).rejects.toThrow(/503/);
    server.failWith = null;
    expect(Array.from(await source.read(0, 3))).toEqual(Array.from(bytes.subarray(0, 3)));
  });
});
