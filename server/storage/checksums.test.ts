import { mkdtemp, rm, writeFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import fc from "fast-check";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { openFile } from "./byte-files";
import { DamagedBlob, digestFile, CHUNK_BYTES, verifyingFile, verifyAll } from "./checksums";

let folder: string;
beforeAll(async () => void (folder = await mkdtemp(join(tmpdir(), "resonum-checksums-"))));
afterAll(() => rm(folder, { recursive: true, force: true }));

const SIZE = 2 * CHUNK_BYTES + 12_345;
const bytes = Uint8Array.from({ length: SIZE }, (_, i) => (i * 2654435761) >>> 13);

describe("a file whose chunks are known", () => {
  it("gives any range as it is", async () => {
    const path = join(folder, "whole");
    await writeFile(path, bytes);
    const digest = await digestFile(path);
    expect(digest).toMatchObject({ bytes: SIZE });
    expect(digest.checksums).toHaveLength(3 * 4);
    const file = verifyingFile(await openFile(path), digest);
    await fc.assert(
      fc.asyncProperty(fc.nat(SIZE + 10), fc.nat(SIZE), async (offset, length) => {
        expect(Buffer.compare(await file.read(offset, length), bytes.subarray(offset, offset + length))).toBe(0);
      }),
      { numRuns: 60 },
    );
    await verifyAll(file, digest);
    await file.close();
  });
  it("gives nothing of a chunk in which one bit has changed, and the others still", async () => {
    const path = join(folder, "flipped");
    await writeFile(path, bytes);
    const digest = await digestFile(path);
    const changed = bytes.slice();
    changed[CHUNK_BYTES + 7]! ^= 4;
    await writeFile(path, changed);
    const file = verifyingFile(await openFile(path), digest);
    expect(await file.read(0, CHUNK_BYTES)).toHaveLength(CHUNK_BYTES);
    await expect(file.read(CHUNK_BYTES + 100, 1)).rejects.toThrow(DamagedBlob);
    await expect(file.read(CHUNK_BYTES - 1, 2)).rejects.toThrow(DamagedBlob);
    expect(await file.read(2 * CHUNK_BYTES, 99_999)).toHaveLength(12_345);
    await expect(verifyAll(file, digest)).rejects.toThrow(/damaged/);
    await file.close();
  });
  it("is damaged when it is shorter or longer than it was", async () => {
    const path = join(folder, "short");
    await writeFile(path, bytes);
    const digest = await digestFile(path);
    for (const other of [bytes.subarray(0, SIZE - 1), Uint8Array.from([...bytes, 0])]) {
      await writeFile(path, other);
      const file = await openFile(path);
      await expect(verifyingFile(file, digest).read(0, 10)).rejects.toThrow(DamagedBlob);
      await file.close();
    }
  });
});
