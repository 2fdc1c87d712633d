import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Planar } from "@core/audio/units";
import { contentHashOf, RepairCache } from "./repair-cache";

/** The browser's cache, of which only this is used. */
function fakeCaches() {
  const held = new Map<string, ArrayBuffer>();
  const cache = {
    match: vi.fn(async (address: string) => {
      const bytes = held.get(address);
      return bytes && new Response(bytes.slice(0));
    }),
    put: vi.fn(async (address: string, response: Response) => void held.set(address, await response.arrayBuffer())),
    keys: vi.fn(async () => [...held.keys()]),
    delete: vi.fn(async (address: string) => held.delete(address)),
  };
  return { held, cache, caches: { open: vi.fn(async () => cache) } };
}

let fake: ReturnType<typeof fakeCaches>;
beforeEach(() => {
  fake = fakeCaches();
  vi.stubGlobal("caches", fake.caches);
});
afterEach(() => vi.unstubAllGlobals());

const block = (frames: number, channels = 2, from = 0): Planar =>
  Array.from({ length: channels }, (_, c) =>
    Float32Array.from({ length: frames }, (_, i) => Math.sin(from + i * (c + 1))),
  );

describe("repaired segments that are kept", () => {
  it("come back to the bit, also to another thread", async () => {
    const [one, two] = [new RepairCache(), new RepairCache()];
    const made = block(1001, 3);
    one.put("a", made);
    expect(await one.get("a")).toBe(made);
    await one.settled();
    expect(await two.get("a")).toEqual(made);
  });

  it("that are missing are asked for once, until it is looked again", async () => {
    const [one, two] = [new RepairCache(), new RepairCache()];
    expect(await two.get("a")).toBeUndefined();
    one.put("a", block(10));
    await one.settled();
    expect(await two.get("a")).toBeUndefined();
    expect(fake.cache.match).toHaveBeenCalledTimes(1);
    two.lookAgain();
    expect(await two.get("a")).toEqual(block(10));
  });

  it("that were missing and are put are there at once", async () => {
    const cache = new RepairCache();
    expect(await cache.get("a")).toBeUndefined();
    cache.put("a", block(10));
    expect(await cache.get("a")).toEqual(block(10));
  });

  it("take no more than 48 MB of a thread's memory: the oldest go, and are read again", async () => {
    const cache = new RepairCache();
    const frames = 2 ** 20; // 8 MB in two channels
    for (let n = 0; n < 8; n++) cache.put(`s${n}`, block(frames, 2, n));
    await cache.settled();
    fake.cache.match.mockClear();
    expect((await cache.get("s7"))![0]![5]).toBeCloseTo(Math.sin(12), 6);
    expect(fake.cache.match).not.toHaveBeenCalled();
    expect((await cache.get("s0"))![0]![5]).toBeCloseTo(Math.sin(5), 6);
    expect(fake.cache.match).toHaveBeenCalledTimes(1);
  });

  it("do without a cache, or one that fails: nothing is lost but time", async () => {
    vi.stubGlobal("caches", { open: vi.fn(async () => Promise.reject(new Error("no room"))) });
    const cache = new RepairCache();
    expect(await cache.get("a")).toBeUndefined();
    cache.put("a", block(10));
    await expect(cache.settled()).resolves.toBeUndefined();
    expect(await cache.get("a")).toEqual(block(10));
  });

  it("are kept by the content of the recording, which its address ends with", () => {
    expect(contentHashOf("/api/blobs/abc123")).toBe("abc123");
  });
});
