/** What leaves the server: verified bytes, or a clear refusal; never more at a time than it bears. */
import { readFile, rm, writeFile } from "node:fs/promises";
import { randomBytes } from "node:crypto";
import { beforeAll, describe, expect, it } from "vitest";
import { blobs } from "../storage/blobs";
import { CHUNK_BYTES, DamagedBlob } from "../storage/checksums";
import { config } from "../config";
import { databaseTrouble, migrate } from "../db/database";
import { blobResponse } from "../http/http-range";
import { ensureFreeSpace, refuseIfDiskFull, explainDiskFull } from "../storage/free-space";
import { streamZip } from "../http/zip-stream";

beforeAll(migrate);

async function kept(bytes: Uint8Array): Promise<string> {
  const draft = await blobs.draft();
  await draft.sink().write(bytes);
  return (await draft.commit()).hash;
}
const ask = (range?: string) => new Request("http://127.0.0.1/x", range ? { headers: { Range: range } } : {});
const flip = async (hash: string, at: number) => {
  const path = await blobs.store.fileOf(hash);
  const bytes = await readFile(path);
  bytes[at]! ^= 1;
  await writeFile(path, bytes);
};

describe("a download", () => {
  const bytes = randomBytes(3 * CHUNK_BYTES + 100);
  it("is the file, or the range of it that was asked for", async () => {
    const hash = await kept(bytes);
    const whole = await blobResponse(hash, ask());
    expect(whole.status).toBe(200);
    expect(Buffer.from(await whole.arrayBuffer()).equals(bytes)).toBe(true);
    const part = await blobResponse(hash, ask(`bytes=${CHUNK_BYTES - 5}-${CHUNK_BYTES + 4}`));
    expect(part.status).toBe(206);
    expect(Buffer.from(await part.arrayBuffer()).equals(bytes.subarray(CHUNK_BYTES - 5, CHUNK_BYTES + 5))).toBe(true);
  });
  it("of a file in which one bit has changed is refused before a byte of it is sent", async () => {
    const hash = await kept(bytes);
    await flip(hash, 2 * CHUNK_BYTES + 9);
    await expect(blobResponse(hash, ask())).rejects.toThrow(DamagedBlob);
  });
  it("of a range breaks off where the damage is, and is whole where it is not", async () => {
    const hash = await kept(bytes);
    await flip(hash, 2 * CHUNK_BYTES + 9);
    const sound = await blobResponse(hash, ask(`bytes=0-${CHUNK_BYTES}`));
    expect((await sound.arrayBuffer()).byteLength).toBe(CHUNK_BYTES + 1);
    const broken = await blobResponse(hash, ask(`bytes=${2 * CHUNK_BYTES}-${2 * CHUNK_BYTES + 20}`));
    await expect(broken.arrayBuffer()).rejects.toThrow(/damaged/);
  });
  it("of what is gone is 404", async () => {
    const hash = await kept(randomBytes(10));
    await rm(await blobs.store.fileOf(hash));
    await expect(blobResponse(hash, ask())).rejects.toMatchObject({ status: 404 });
  });
});

describe("zip files", () => {
  it("are sent so many at a time, and the next are told to come again; one that is given up makes room", async () => {
    const open = Array.from({ length: 6 }, () => streamZip(async (archive) => void archive.append("x", { name: "x" })));
    expect(() => streamZip(async () => undefined)).toThrow(/Other zip files are being sent/);
    await open[0]!.cancel();
    await expect
      .poll(() => {
        try {
          open.push(streamZip(async () => undefined));
          return true;
        } catch {
          return false;
        }
      })
      .toBe(true);
    for (const stream of open.slice(1)) await stream.cancel();
  });
});

describe("a disk without room", () => {
  it("ends a blob before it is full, with the code and the words of a full disk", async () => {
    const before = config.keepFreeBytes;
    config.keepFreeBytes = Number.MAX_SAFE_INTEGER;
    try {
      await expect(ensureFreeSpace(config.dataFolder)).rejects.toMatchObject({ code: "ENOSPC" });
      await expect(kept(randomBytes(10))).rejects.toMatchObject({ code: "ENOSPC" });
    } finally {
      config.keepFreeBytes = before;
    }
    expect(await kept(Buffer.from("room again"))).toMatch(/^[0-9a-f]{64}$/);
    expect(explainDiskFull(Object.assign(new Error("x"), { code: "ENOSPC" })).message).toMatch(/^The disk is full/);
  });
  it("of a database elsewhere is not ours to watch", async () => {
    expect(config.databaseFolder).toBe("");
    await expect(refuseIfDiskFull()).resolves.toBeUndefined();
  });
});

describe("trouble of the database", () => {
  it.each([
    ["57P03", "the database system is starting up", "Database starting"],
    ["53300", "sorry, too many clients already", "Busy"],
    ["", "timeout exceeded when trying to connect", "Busy"],
    ["57014", "canceling statement due to statement timeout", "Took too long"],
    ["ECONNREFUSED", "connect ECONNREFUSED 127.0.0.1:5432", "Database gone"],
    ["", "Connection terminated unexpectedly", "Database gone"],
    ["53100", "could not extend file: No space left on device", "Disk full"],
  ])("%s %s is told as: %s", (code, message, title) => {
    const told = databaseTrouble(Object.assign(new Error(message), { code }));
    expect(told).toMatchObject({ title });
    expect(told!.detail).not.toContain(message);
    expect(told!.seconds).toBeGreaterThan(0);
  });
  it("is no other error", () => {
    expect(databaseTrouble(Object.assign(new Error("duplicate key"), { code: "23505" }))).toBeUndefined();
    expect(databaseTrouble(new TypeError("x is undefined"))).toBeUndefined();
  });
});
