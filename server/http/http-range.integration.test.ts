/** Blobs over HTTP: whole, in ranges, and as attachments of any name. */
import fc from "fast-check";
import { beforeAll, describe, expect, it, vi } from "vitest";
import { migrate } from "../db/database";
import { blobs } from "../storage/blobs";
import { attachment, blobResponse } from "./http-range";

const SIZE = 5000;
const bytes = Uint8Array.from({ length: SIZE }, (_, i) => (i * 31) % 251);
let hash: string;
beforeAll(async () => {
  await migrate();
  hash = await kept(bytes);
});

async function kept(of: Uint8Array): Promise<string> {
  const draft = await blobs.draft();
  if (of.length > 0) await draft.sink().write(of);
  return (await draft.commit()).hash;
}
const get = (range?: string, method = "GET", of = hash) =>
  blobResponse(of, new Request("http://here/blob", { method, headers: range === undefined ? {} : { range } }));
const body = async (response: Response) => new Uint8Array(await response.arrayBuffer());

describe("a blob", () => {
  it("is given whole, and may be kept for ever", async () => {
    const response = await get();
    expect(response.status).toBe(200);
    expect(response.headers.get("content-length")).toBe(String(SIZE));
    expect(response.headers.get("cache-control")).toMatch(/immutable/);
    expect(await body(response)).toEqual(bytes);
  });

  it("is given in any range there is (RFC 9110, 14)", async () => {
    const position = fc.integer({ min: 0, max: SIZE + 200 });
    await fc.assert(
      fc.asyncProperty(position, fc.option(position), async (start, end) => {
        const range = `bytes=${start}-${end ?? ""}`;
        const last = Math.min(SIZE - 1, end ?? SIZE - 1);
        if (start > last) {
          await expect(get(range)).rejects.toMatchObject({ status: 416 });
          return;
        }
        const response = await get(range);
        expect(response.status).toBe(206);
        expect(response.headers.get("content-range")).toBe(`bytes ${start}-${last}/${SIZE}`);
        expect(response.headers.get("content-length")).toBe(String(last - start + 1));
        expect(await body(response)).toEqual(bytes.slice(start, last + 1));
      }),
      { numRuns: 200 },
    );
  });

  it("is given from its end", async () => {
    await fc.assert(
      fc.asyncProperty(fc.integer({ min: 1, max: 2 * SIZE }), async (count) => {
        expect(await body(await get(`bytes=-${count}`))).toEqual(bytes.slice(Math.max(0, SIZE - count)));
      }),
      { numRuns: 50 },
    );
    await expect(get("bytes=-0")).rejects.toMatchObject({ status: 416 });
  });

  it.each(["bytes=-", "bytes=a-b", "bytes=1-2,4-5", "items=0-1", "bytes 0-1", ""])(
    "is given whole where %j is no range that is known here",
    async (range) => {
      const response = await get(range);
      expect(response.status).toBe(200);
      expect((await body(response)).length).toBe(SIZE);
    },
  );

  it("tells its size without its bytes", async () => {
    const response = await get(undefined, "HEAD");
    expect([response.status, response.headers.get("x-size")]).toEqual([200, String(SIZE)]);
    expect((await body(response)).length).toBe(0);
  });

  it("that is empty is given as it is", async () => {
    const empty = await kept(new Uint8Array(0));
    const response = await get(undefined, "GET", empty);
    expect([response.status, response.headers.get("content-length")]).toEqual([200, "0"]);
    expect((await body(response)).length).toBe(0);
    await expect(get("bytes=0-", "GET", empty)).rejects.toMatchObject({ status: 416 });
  });

  it("that is not there is a clear 404", async () => {
    await expect(get(undefined, "GET", "0".repeat(64))).rejects.toMatchObject({ status: 404 });
  });

  it("is let go of when the client goes away", async () => {
    const large = await kept(new Uint8Array(3 << 20).fill(7));
    const gone = new AbortController();
    const open = vi.spyOn(blobs, "open");
    const response = await blobResponse(large, new Request("http://here/blob", { signal: gone.signal }));
    const reader = response.body!.getReader();
    await reader.read();
    const close = vi.spyOn(await (open.mock.results[0]!.value as ReturnType<typeof blobs.open>), "close");
    gone.abort();
    expect(close).toHaveBeenCalledOnce();
    await reader.cancel();
    expect(close).toHaveBeenCalledOnce();
  });
});

describe("a name for a download", () => {
  it("stands in the header whatever it is, and comes back from it", () => {
    fc.assert(
      fc.property(fc.string({ unit: "binary", maxLength: 80 }), (name) => {
        const header = attachment(name);
        expect(() => new Headers({ "content-disposition": header })).not.toThrow();
        expect(header).toMatch(/^attachment; filename="[\x20-\x7e]*"; filename\*=UTF-8''[\w%.~!*-]*$/);
        expect(decodeURIComponent(header.split("UTF-8''")[1]!)).toBe(name.replace(/\p{Cs}/gu, "_"));
      }),
    );
  });
});
