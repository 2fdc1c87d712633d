/** Blobs with their references in the database: nothing that anything refers to is ever removed, whatever is shared. */
import { readFile, rm, writeFile } from "node:fs/promises";
import { join } from "node:path";
import fc from "fast-check";
import { beforeAll, describe, expect, it } from "vitest";
import { blobs } from "./blobs";
import { DamagedBlob } from "./checksums";
import { config } from "../config";
import { migrate, row, rows } from "../db/database";
import { createProject } from "../projects/projects";
import { scrub } from "../operations/scrub";
import { sweep } from "./sweeper";

beforeAll(migrate);

async function kept(text: string): Promise<string> {
  const draft = await blobs.draft();
  await draft.sink().write(Buffer.from(text));
  const { hash } = await draft.commit();
  return hash;
}
const pathOf = (hash: string) => join(config.dataFolder, "blobs", hash.slice(0, 2), hash.slice(2));
const isThere = async (hash: string) => (await blobs.size(hash)) !== undefined;
const count = async (hash: string) =>
  (await row<{ n: number }>("select reference_count as n from blob where hash = $1", [hash]))?.n;
const old = () => rows("update blob set touched_at = now() - interval '2 hours'");
const addSource = (hash: string, pcm: string | null = null) =>
  rows("insert into source (hash, name, bytes, pcm_hash) values ($1, 'a.wav', 1, $2)", [hash, pcm]);

async function addWork(pcm: string | null): Promise<string> {
  return (await row<{ id: string }>(
    "insert into item_render (key, inputs, state, pcm_hash) values (gen_random_uuid()::text, '{}', 'done', $1) returning id",
    [pcm],
  ))!.id;
}

describe("references", () => {
  it("are counted by the rows that name a blob, as those come, change and go", async () => {
    const [a, b] = [await kept("a"), await kept("b")];
    expect(await count(a)).toBe(0);
    await addSource(a, b);
    const work = await addWork(b);
    expect([await count(a), await count(b)]).toEqual([1, 2]);
    await rows("update item_render set pcm_hash = $2 where id = $1", [work, a]);
    expect([await count(a), await count(b)]).toEqual([2, 1]);
    await rows("delete from item_render where id = $1", [work]);
    await rows("update source set pcm_hash = null where hash = $1", [a]);
    expect([await count(a), await count(b)]).toEqual([1, 0]);
  });
  it("keep the sound of a recording that is also a segment of another", async () => {
    const silence = await kept("five minutes of digital silence");
    await addSource(silence);
    const work = await addWork(null);
    await rows("insert into item_render_segment (item_render_id, index, state, pcm_hash) values ($1, 0, 'done', $2)", [
      work,
      silence,
    ]);
    await rows("delete from item_render_segment where item_render_id = $1", [work]);
    await old();
    await sweep({ dryRun: false });
    expect(await isThere(silence)).toBe(true);
  });
  it("hold whatever rows share at random: what any row names is there, and what none does is swept", async () => {
    const project = (await createProject("Shares", "music", "test")).id;
    const names = ["s0", "s1", "s2", "s3", "s4"];
    const step = fc.record({
      what: fc.constantFrom("source", "work", "segment", "drop work", "drop segment", "project", "sweep", "adopt"),
      blob: fc.nat(names.length - 1),
    });
    await fc.assert(
      fc.asyncProperty(fc.array(step, { minLength: 5, maxLength: 25 }), async (steps) => {
        await rows("delete from item_render_segment; ");
        await rows("delete from item_render");
        await rows("delete from project_blob");
        await rows("delete from source");
        const hashes = await Promise.all(names.map(kept));
        for (const { what, blob } of steps) {
          const hash = hashes[blob]!;
          if (what === "adopt") await kept(names[blob]!);
          if (!(await isThere(hash))) continue; // only what is there is referred to
          if (what === "source")
            await rows("insert into source (hash, name, bytes) values ($1, 'x', 1) on conflict do nothing", [hash]);
          if (what === "work") await addWork(hash);
          if (what === "segment")
            await rows(
              "insert into item_render_segment (item_render_id, index, pcm_hash) values ($1, $2, $3) on conflict do nothing",
              [await addWork(null), blob, hash],
            );
          if (what === "drop work") await rows("delete from item_render where pcm_hash = $1", [hash]);
          if (what === "drop segment") await rows("delete from item_render_segment where pcm_hash = $1", [hash]);
          if (what === "project")
            await rows("insert into project_blob values ($1, $2) on conflict do nothing", [project, hash]);
          if (what === "sweep") {
            await old();
            await sweep({ dryRun: false });
          }
        }
        await old();
        await sweep({ dryRun: false });
        for (const hash of hashes) {
          const named = await row(
            `select 1 where exists (select 1 from source where hash = $1) or exists (select 1 from item_render where pcm_hash = $1)
               or exists (select 1 from item_render_segment where pcm_hash = $1) or exists (select 1 from project_blob where hash = $1)`,
            [hash],
          );
          expect(await isThere(hash)).toBe(named !== undefined);
        }
      }),
      { numRuns: 12 },
    );
  });
});

describe("the sweeper", () => {
  it("tells in a dry run what it would take, and takes just that; what is new it leaves", async () => {
    const [stale, fresh] = [await kept("stale"), await kept("fresh")];
    await rows("update blob set touched_at = now() - interval '2 hours' where hash = $1", [stale]);
    const told = await sweep({ dryRun: true });
    expect(await isThere(stale)).toBe(true);
    expect(await sweep({ dryRun: false })).toEqual(told);
    expect([await isThere(stale), await isThere(fresh)]).toEqual([false, true]);
    // What comes again is there again.
    expect(await isThere(await kept("stale"))).toBe(true);
  });
  it("lets go of item renders that nothing asked for in a month", async () => {
    const pcm = await kept("a render of an item");
    const work = await addWork(pcm);
    await rows("update item_render set used_at = now() - interval '40 days' where id = $1", [work]);
    await sweep({ dryRun: false });
    expect(await count(pcm)).toBe(0);
    expect(await isThere(pcm)).toBe(true); // for an hour
  });
});

describe("a blob whose bytes have changed on the disk", () => {
  const damage = async (hash: string) => {
    const bytes = await readFile(pathOf(hash));
    bytes[3]! ^= 1;
    await writeFile(pathOf(hash), bytes);
  };
  it("is not given out, neither as a file nor for reading", async () => {
    const hash = await kept("the original, byte for byte");
    expect(await readFile(await blobs.fileOf(hash), "utf8")).toMatch(/^the original/);
    await damage(hash);
    await expect(blobs.fileOf(hash)).rejects.toThrow(DamagedBlob);
    const file = await blobs.open(hash);
    await expect(file.read(0, 10)).rejects.toThrow(/damaged/);
    await file.close();
  });
  it("is made whole by the same bytes when they come again", async () => {
    const hash = await kept("heal me");
    await damage(hash);
    expect(await blobs.isWhole(hash)).toBe(false);
    expect(await kept("heal me")).toBe(hash);
    expect(await readFile(await blobs.fileOf(hash), "utf8")).toBe("heal me");
    await rm(pathOf(hash));
    await kept("heal me");
    expect(await blobs.isWhole(hash)).toBe(true);
  });
  it("is found by a scrub, with what is missing and what nothing knows", async () => {
    await rows("delete from item_render; ");
    const [whole, flipped, missing] = [await kept("whole"), await kept("flipped"), await kept("missing")];
    for (const hash of [whole, flipped, missing]) await addWork(hash);
    await damage(flipped);
    await rm(pathOf(missing));
    const stray = "ab".repeat(32);
    await writeFile(pathOf(whole).replace(whole.slice(2), "f".repeat(62)), "stray").catch(() => undefined);
    const found = await scrub();
    expect(found.damaged).toContain(flipped);
    expect(found.missing).toContain(missing);
    expect([...found.damaged, ...found.missing]).not.toContain(whole);
    expect(found.unknown.length).toBe(1);
    expect(found.unknown).not.toContain(stray);
  });
  it("was kept before there were checksums: it is read through once, and known from then on", async () => {
    const hash = await kept("from before");
    await rows("update blob set checksums = null, bytes = null where hash = $1", [hash]);
    const { blobs: fresh } = await freshModule();
    expect((await fresh.digestOf(hash)).bytes).toBe(11);
    expect(await row("select bytes from blob where hash = $1 and checksums is not null", [hash])).toEqual({
      bytes: 11,
    });
  });
});

/** The module as another process has it: without what this one remembers. */
async function freshModule(): Promise<typeof import("./blobs")> {
  const { vi } = await import("vitest");
  vi.resetModules();
  return import("./blobs");
}
