/** Items after their chain, made once by any number of workers, whoever of them dies. */
import { readFile } from "node:fs/promises";
import { beforeAll, beforeEach, describe, expect, it, vi } from "vitest";
import { CORE_VERSION } from "@core/audio/core-version";
import { layoutNamed } from "@core/audio/layout";
import { memorySource } from "@core/files/bytes";
import { openSoundFile } from "@core/files/open";
import { newChainEntry, soundingEntry } from "@core/processors";
import type { ItemRenderInputs } from "@core/project/item-render-inputs";
import { processedSource } from "@core/render/processed-source";
import { noise } from "@core/testing/signals";
import { addRecording } from "../../tests/integration/recording";
import { migrate, row, rows } from "../db/database";
import { createProject } from "../projects/projects";
import { takeJob } from "../queue/queue";
import type { JobContext } from "../queue/job-runner";
import { blobs } from "../storage/blobs";
import { itemRender, renderPendingSegments } from "./item-renders";

/** Two segments of 300 s and a shorter one. */
const RATE = 8000;
const SECONDS = 640;
const mono = layoutNamed("mono")!;
const never = new AbortController().signal;

let source: string;
let project: string;
beforeAll(async () => {
  await migrate();
  project = (await createProject("Low Door", "audiobook", "test")).id;
  source = (await addRecording("Low Door.wav", [noise(SECONDS, RATE, -20, 1)], RATE)).hash;
});
beforeEach(async () => {
  vi.restoreAllMocks();
  await rows("delete from item_render_segment");
  await rows("delete from item_render");
  await rows("delete from job");
});

const inputs = (gainDb: number): ItemRenderInputs => {
  const chain = [newChainEntry("compressor", "c"), { ...newChainEntry("gain", "g"), gainDb }];
  const sounding = chain.map(soundingEntry);
  return { source, layout: mono, clips: null, repairs: [], chain: sounding, coreVersion: CORE_VERSION };
};
const asked = (of: ItemRenderInputs, signal = never, tell = () => undefined as void) =>
  itemRender(of, project, signal, tell);
const pathOf = (hash: string) => blobs.fileOf(hash);
const segments = () =>
  rows<{ index: number; state: string; claim: string | null }>(
    "select index, state, claim from item_render_segment order by index",
  );

async function soundOf(hash: string): Promise<Float32Array> {
  const file = (await openSoundFile(memorySource(new Uint8Array(await readFile(await pathOf(hash))))))!;
  return (await file.read(0, file.frames))[0]!;
}

describe("an item after its chain", () => {
  it("is the very samples of one pass, though it is made in segments", async () => {
    const { pcmHash, figures } = await asked(inputs(-3));
    const file = (await openSoundFile(memorySource(new Uint8Array(await readFile(await pathOf(source))))))!;
    const whole = processedSource(file, inputs(-3), mono);
    const expected = (await whole.read(0, whole.frames))[0]!;
    const made = await soundOf(pcmHash);
    expect(made.length).toBe(expected.length);
    let different = 0;
    for (let i = 0; i < made.length; i++) if (made[i] !== expected[i]) different++;
    expect(different).toBe(0);
    expect(figures.frames).toBe(expected.length);
    expect(await segments()).toEqual([]);
  });

  it("is made once for all that ask for it at a time", async () => {
    const made = await Promise.all([asked(inputs(-4)), asked(inputs(-4)), asked(inputs(-4))]);
    expect(new Set(made.map(({ pcmHash }) => pcmHash)).size).toBe(1);
    expect(await row<{ n: number }>("select count(*)::int as n from item_render")).toEqual({ n: 1 });
  });

  it("is there at once the second time, and made again where its sound is lost", async () => {
    const first = await asked(inputs(-5));
    const told = vi.fn();
    expect((await asked(inputs(-5), never, told)).pcmHash).toBe(first.pcmHash);
    expect(told).not.toHaveBeenCalled();
    const { rm } = await import("node:fs/promises");
    await rm(await pathOf(first.pcmHash));
    expect((await asked(inputs(-5), never, told)).pcmHash).toBe(first.pcmHash);
    expect(told).toHaveBeenCalled();
    expect((await soundOf(first.pcmHash)).length).toBe(RATE * SECONDS);
  });

  it("is the recording's own sound where nothing is done to it", async () => {
    const untouched = { ...inputs(0), chain: [] };
    expect((await asked(untouched)).pcmHash).toBe(source);
    expect(await row<{ n: number }>("select count(*)::int as n from item_render")).toEqual({ n: 0 });
  });
});

describe("segments", () => {
  it("are offered to as many helpers as there are besides the first", async () => {
    await asked(inputs(-6));
    const jobs: string[] = [];
    for (let job = await takeJob("w", false); job; job = await takeJob("w", false)) jobs.push(job.queue);
    expect(jobs).toEqual(["segment", "segment"]);
  });

  it("are shared with a helper, and nothing is made twice", async () => {
    const drafts = vi.spyOn(blobs, "draft");
    const mine = asked(inputs(-7));
    await vi.waitFor(async () => expect(await segments()).toHaveLength(4), { timeout: 20_000 });
    const { id } = (await row<{ id: string }>("select id from item_render"))!;
    const helper = { subject: `${id}/1`, signal: never, progress: () => undefined } as unknown as JobContext;
    const [{ pcmHash }] = await Promise.all([mine, renderPendingSegments(helper)]);
    expect((await soundOf(pcmHash)).length).toBe(RATE * SECONDS);
    expect(await segments()).toEqual([]);
    // One for each segment; sound and overview of the whole.
    expect(drafts).toHaveBeenCalledTimes(3 + 2);
  });

  it("of a worker that is gone are taken over, and what it writes afterwards counts for nothing", async () => {
    const stopped = new AbortController();
    const first = asked(inputs(-8), stopped.signal).catch((error: unknown) => error);
    await vi.waitFor(async () => expect((await segments()).some(({ state }) => state === "taken")).toBe(true), {
      timeout: 20_000,
      interval: 5,
    });
    stopped.abort();
    await first;
    // As if it had died with a segment in hand: taken, and not renewed for long.
    const dead = (await row<{ claim: string; index: number }>(
      `update item_render_segment set state = 'taken', claim = gen_random_uuid(), taken_at = now() - interval '1 minute'
       where index = (select min(index) from item_render_segment where index >= 0 and state <> 'done') returning claim, index`,
    ))!;
    const second = asked(inputs(-8));
    const claimOf = async () => (await segments()).find(({ index }) => index === dead.index)?.claim;
    await vi.waitFor(async () => expect(await claimOf()).not.toBe(dead.claim), { timeout: 20_000, interval: 5 });
    const late = await rows("update item_render_segment set state = 'done' where claim = $1 returning index", [
      dead.claim,
    ]);
    expect(late).toEqual([]);
    expect((await soundOf((await second).pcmHash)).length).toBe(RATE * SECONDS);
  });

  it("are given back by one that fails, with the reason", async () => {
    await rows("update source set pcm_hash = null where hash = $1", [source]);
    await expect(asked(inputs(-9))).rejects.toThrow("The recording is not prepared.");
    await rows("update source set pcm_hash = $1 where hash = $1", [source]);
    expect((await segments()).filter(({ state }) => state === "taken")).toEqual([]);
    expect((await asked(inputs(-9))).figures.frames).toBe(RATE * SECONDS);
  });
});
