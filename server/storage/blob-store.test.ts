import { createHash } from "node:crypto";
import { mkdir, mkdtemp, readdir, rm, utimes, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { FolderBlobs } from "./blob-store";
import { digestFile } from "./checksums";
import { processMark } from "./process-mark";

let folder: string;
beforeAll(async () => void (folder = await mkdtemp(join(tmpdir(), "resonum-blobs-"))));
afterAll(() => rm(folder, { recursive: true, force: true }));

const sha = (bytes: Uint8Array) => createHash("sha256").update(bytes).digest("hex");

describe("blobs in a folder", () => {
  it("are named by their bytes, patches included, and read by range", async () => {
    const blobs = new FolderBlobs(join(folder, "a"));
    const draft = await blobs.draft();
    await draft.sink().write(Uint8Array.of(0, 0, 3, 4, 5));
    await draft.sink().patch(0, Uint8Array.of(1, 2));
    const { hash, bytes } = await draft.commit();
    await draft.discard();
    expect({ hash, bytes }).toEqual({ hash: sha(Uint8Array.of(1, 2, 3, 4, 5)), bytes: 5 });
    const file = await blobs.open(hash);
    expect(Array.from(await file.read(3, 100))).toEqual([4, 5]);
    const listed = [];
    for await (const one of blobs.list()) listed.push(one.hash);
    expect(listed).toEqual([hash]);
    expect(await file.read(9, 1)).toHaveLength(0);
    await file.close();
  });
  it("leave nothing behind when a draft is given up, and start afresh when told", async () => {
    const blobs = new FolderBlobs(join(folder, "b"));
    const draft = await blobs.draft();
    await draft.sink().write(Uint8Array.of(9, 9));
    await (await draft.restart()).write(Uint8Array.of(7));
    const reading = await draft.readBack();
    expect(reading.size).toBe(1);
    await reading.close();
    await draft.discard();
    expect(await readdir(join(folder, "b", "temporary"))).toEqual([]);
  });
  it("are kept once, however often they come", async () => {
    const blobs = new FolderBlobs(join(folder, "c"));
    for (let n = 0; n < 2; n++) {
      const path = join(folder, `same-${n}`);
      await writeFile(path, "the same");
      await blobs.adopt(path, await digestFile(path));
    }
    expect((await readdir(folder)).filter((name) => name.startsWith("same"))).toEqual([]);
    expect(await blobs.size(sha(Buffer.from("the same")))).toBe(8);
  });
  it("refuse anything that is no hash as a name", () => {
    const blobs = new FolderBlobs(folder);
    expect(() => blobs.pathOf("../../etc/passwd")).toThrow(/hash/);
  });
  it("sweep drafts of processes that are gone, and only those", async () => {
    const blobs = new FolderBlobs(join(folder, "d"));
    const mine = await blobs.draft();
    await mine.sink().write(Uint8Array.of(1));
    const [host, , start] = processMark().split("-");
    const temporary = join(folder, "d", "temporary");
    await writeFile(join(temporary, `${host}-999999999-1-left`), "x");
    await writeFile(join(temporary, `${host}-1-${start}9-anothers-number-by-now`), "x");
    await writeFile(join(temporary, "elsewhere-1-1-at-work"), "x");
    const abandoned = join(temporary, "elsewhere-1-1-abandoned");
    await writeFile(abandoned, "x");
    await utimes(abandoned, new Date(), new Date(Date.now() - 8 * 24 * 3600 * 1000));
    await mkdir(join(folder, "d", "measuring-abc"));
    await blobs.sweepDrafts();
    const left = await readdir(temporary);
    expect(left.filter((name) => name.startsWith(processMark()))).toHaveLength(1);
    expect(left.filter((name) => !name.startsWith(processMark()))).toEqual(["elsewhere-1-1-at-work"]);
    expect(await readdir(join(folder, "d"))).toEqual(["temporary"]);
    await mine.discard();
  });
});
