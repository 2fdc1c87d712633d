import { mkdtemp, readdir, readFile, rm, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { objectStore, type ObjectStore } from "../../receivers/object-store";
import { FolderBlobs } from "./blob-store";
import { ObjectBlobs } from "./object-blobs";

let folder: string;
let store: ObjectStore;
beforeAll(async () => {
  folder = await mkdtemp(join(tmpdir(), "resonum-objects-"));
  store = await objectStore(join(folder, "store"), "key");
});
afterAll(async () => {
  store.close();
  await rm(folder, { recursive: true, force: true });
});

const machine = (name: string, keyId = "key") =>
  new ObjectBlobs(
    "s3://studio/blobs",
    { endpoint: `http://127.0.0.1:${store.port}`, region: "local", keyId, secret: "secret" },
    new FolderBlobs(join(folder, name)),
  );
const bytes = Uint8Array.from({ length: 300_000 }, (_, i) => (i * 7919) >> 5);

async function kept(blobs: ObjectBlobs): Promise<string> {
  const draft = await blobs.draft();
  await draft.sink().write(bytes);
  return (await draft.commit()).hash;
}

describe("blobs in object storage", () => {
  it("written on one machine are read on another, and stay near after", async () => {
    const hash = await kept(machine("one"));
    expect(await readFile(join(folder, "store", "studio", "blobs", hash))).toEqual(Buffer.from(bytes));
    const other = machine("two");
    expect(await other.size(hash)).toBe(bytes.length);
    const file = await other.open(hash);
    expect(await file.read(1000, 50)).toEqual(bytes.slice(1000, 1050));
    await file.close();
    const asked = store.asked.GET!;
    await (await other.open(hash)).close();
    expect(store.asked.GET).toBe(asked);
    expect(await readFile(await other.fileOf(hash))).toEqual(Buffer.from(bytes));
  });
  it("are sent once, and gone when removed", async () => {
    const blobs = machine("one");
    const before = store.asked.PUT;
    const hash = await kept(blobs);
    expect(store.asked.PUT).toBe(before);
    await blobs.remove(hash);
    expect(await blobs.size(hash)).toBeUndefined();
    await expect(machine("three").open(hash)).rejects.toThrow(/does not have this blob/);
  });
  it("with other bytes than their name says are not taken", async () => {
    const hash = await kept(machine("one"));
    await writeFile(join(folder, "store", "studio", "blobs", hash), "something else");
    const other = machine("four");
    await expect(other.open(hash)).rejects.toThrow(/other bytes/);
    expect(await readdir(join(folder, "four")).catch(() => [])).not.toContain(hash.slice(0, 2));
  });
  it("say when the key is refused, the store is gone, or the address is none", async () => {
    await expect(machine("five", "stranger").size("0".repeat(64))).rejects.toThrow(/refuses HEAD: 403/);
    const gone = new ObjectBlobs(
      "s3://studio",
      { endpoint: "http://127.0.0.1:9", region: "local", keyId: "k", secret: "s" },
      new FolderBlobs(join(folder, "six")),
    );
    await expect(gone.size("0".repeat(64))).rejects.toThrow(/cannot be reached/);
    const access = { endpoint: "", region: "", keyId: "", secret: "" };
    expect(() => new ObjectBlobs("s3://", access, new FolderBlobs(folder))).toThrow(/names no bucket/);
    expect(() => new ObjectBlobs("s3://b", access, new FolderBlobs(folder))).toThrow(/RESONUM_S3_ENDPOINT/);
  });
});
