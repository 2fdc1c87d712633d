/** Masters on the real PostgreSQL: asked for once, made once, found again, and stopped when nobody wants them. */
import { rm, writeFile } from "node:fs/promises";
import { beforeAll, beforeEach, describe, expect, it } from "vitest";
import { newFormat } from "@core/delivery/recipe";
import { newChainEntry } from "@core/processors";
import type { Command } from "@core/project/commands";
import { noise } from "@core/testing/signals";
import { addRecording } from "../../tests/integration/recording";
import { migrate, row, rows, transaction } from "../db/database";
import { createProject, edit, openProject } from "../projects/projects";
import { runJob, type Handler } from "../queue/job-runner";
import { takeJob } from "../queue/queue";
import { blobs } from "../storage/blobs";
import { cancelUnwantedJobs, reconcile } from "../worker/reconcile";
import {
  cancelMaster,
  masterFileName,
  masterOf,
  mastersOf,
  prioritiseMaster,
  renderFailed,
  renderMasterJob,
  requestMaster,
} from "./masters";

const RATE = 48_000;
const handler: Handler = { run: renderMasterJob, failed: renderFailed };
const never = new AbortController().signal;

let source: string;
let project: string;
beforeAll(migrate);
beforeEach(async () => {
  await rows("delete from job");
  source = (await addRecording("Low Door.wav", [noise(3, RATE, -20, 1)], RATE)).hash;
  project = (await createProject("Low Door", "broadcast", "test")).id;
  for (const id of ["one", "two"])
    await make({
      type: "addSource",
      source: { hash: source, name: "Low Door.wav" },
      item: { id, name: `Chapter ${id}`, source, repairs: [], chain: [], markers: [] },
    });
});

let edits = 0;
async function make(command: Command): Promise<void> {
  const { head } = await openProject(project);
  const id = `00000000-0000-4000-8000-${String(++edits).padStart(12, "0")}`;
  await edit(project, { id, base: head, command, author: "test" });
}
const deliverable = async () => (await openProject(project)).document.deliverables[0]!.id;
const ask = async (item = "one") => requestMaster(project, item, await deliverable());
const jobs = () => rows<{ subject: string }>("select subject from job where queue = 'render' order by subject");

/** Does what waits in the queue, as a worker would. */
async function work(): Promise<number> {
  let done = 0;
  for (let job = await takeJob("w", false); job; job = await takeJob("w", false)) {
    if (job.queue === "render") await runJob(job, handler, never);
    done++;
  }
  return done;
}

describe("a master", () => {
  it("is rendered, verified on its file, and kept with what it measured", async () => {
    const { id } = await ask();
    await work();
    const master = await masterOf(id);
    expect(master).toMatchObject({ state: "done", problem: null });
    expect(master.result!.verdict).toMatchObject({ specId: "ebu-r128", pass: true });
    expect(master.result!.figures.integratedLufs).toBeCloseTo(-23, 1);
    expect(await blobs.size(master.file_hash!)).toBe(Number(master.file_bytes));
    expect(await masterFileName(master)).toMatchObject({ mediaType: "audio/wav" });
  });

  it("is asked for once, however often and by however many at a time", async () => {
    const asked = await Promise.all([ask(), ask(), ask()]);
    expect(new Set(asked.map(({ id }) => id)).size).toBe(1);
    expect(await jobs()).toHaveLength(1);
    await work();
    expect((await ask()).state).toBe("done");
    expect(await jobs()).toEqual([]);
  });

  it("is another one once what decides its bytes has changed, and the former one when it is as it was", async () => {
    const first = await ask();
    await work();
    const entry = { ...newChainEntry("gain", "g"), gainDb: -3 };
    await make({ type: "addProcessor", item: "one", entry });
    const second = await ask();
    expect(second.id).not.toBe(first.id);
    await make({ type: "removeProcessor", item: "one", entry: "g" });
    expect(await ask()).toMatchObject({ id: first.id, state: "done" });
  });

  it("stays as it is when another item is renamed, marked or treated", async () => {
    const { id } = await ask("one");
    await work();
    await make({ type: "renameItem", item: "two", name: "The Ferry" });
    await make({ type: "addProcessor", item: "two", entry: newChainEntry("limiter", "l") });
    expect(await ask("one")).toMatchObject({ id, state: "done" });
    expect(await jobs()).toEqual([]);
  });

  it("whose tags alone have changed has the same sound under another header", async () => {
    const first = await ask("one");
    await work();
    const before = await masterOf(first.id);
    await make({ type: "renameItem", item: "one", name: "The Ferry" });
    const second = await ask("one");
    expect(second.id).not.toBe(first.id);
    await work();
    const after = await masterOf(second.id);
    expect(after.file_hash).not.toBe(before.file_hash);
    expect(after.result!.figures).toEqual(before.result!.figures);
    expect(after.inputs.tags.title).toBe("The Ferry");
  });

  it("whose file is lost or damaged is rendered again, to the same bytes", async () => {
    const { id } = await ask();
    await work();
    const { file_hash: hash } = await masterOf(id);
    const path = await blobs.fileOf(hash!);
    await rm(path);
    expect((await ask()).state).toBe("waiting");
    await work();
    expect(await masterOf(id)).toMatchObject({ state: "done", file_hash: hash });
    await writeFile(path, "damaged");
    expect((await ask()).state).toBe("waiting");
    await work();
    expect((await masterOf(id)).file_hash).toBe(hash);
  });

  it("of an item whose recording is still being read is refused, in words", async () => {
    await rows("update source set state = 'preparing' where hash = $1", [source]);
    await expect(ask()).rejects.toMatchObject({
      status: 422,
      message: expect.stringMatching(/still being read/) as string,
    });
    await rows("update source set state = 'ready' where hash = $1", [source]);
  });

  it("of what is not in the project is a clear 404", async () => {
    await expect(ask("nobody")).rejects.toMatchObject({ status: 404 });
    await expect(requestMaster(project, "one", "nothing")).rejects.toMatchObject({ status: 404 });
  });

  it("that fails says why, and is tried again when it is asked for", async () => {
    const { id } = await ask();
    await transaction((client) => renderFailed(id, "The tide came in.", client));
    expect(await masterOf(id)).toMatchObject({ state: "failed", problem: "The tide came in." });
    await rows("delete from job");
    expect(await ask()).toMatchObject({ id, state: "waiting" });
    await work();
    expect(await masterOf(id)).toMatchObject({ state: "done", problem: null });
  });
});

describe("masters that wait", () => {
  it("go first when they are wanted first", async () => {
    const [one, two] = [await ask("one"), await ask("two")];
    await prioritiseMaster(two.id);
    expect((await takeJob("w", false))!.subject).toBe(two.id);
    expect((await takeJob("w", false))!.subject).toBe(one.id);
  });

  it("are stopped, and their job with them", async () => {
    const { id } = await ask();
    await cancelMaster(id);
    expect((await masterOf(id)).state).toBe("cancelled");
    expect(await jobs()).toEqual([]);
    expect(await work()).toBe(0);
  });

  it("are stopped when nobody wants them any more: of another setting, or of an item that is gone", async () => {
    const [one, two] = [await ask("one"), await ask("two")];
    await make({ type: "addProcessor", item: "one", entry: newChainEntry("limiter", "l") });
    await make({ type: "removeItem", item: "two" });
    await cancelUnwantedJobs();
    expect([(await masterOf(one.id)).state, (await masterOf(two.id)).state]).toEqual(["cancelled", "cancelled"]);
    expect(await jobs()).toEqual([]);
  });

  it("are not stopped by what changes no byte of theirs", async () => {
    const { id } = await ask("one");
    await make({ type: "addMarkers", item: "one", markers: [{ id: "m", kind: "mark", name: "x", start: 10 }] });
    await make({ type: "addDeliverable", deliverable: { id: "d9", spec: "streaming-14", format: newFormat() } });
    await cancelUnwantedJobs();
    expect((await masterOf(id)).state).toBe("waiting");
  });

  it("whose job was lost get another one", async () => {
    const { id } = await ask();
    await rows("delete from job");
    await reconcile();
    expect((await jobs()).map(({ subject }) => subject)).toContain(id);
  });

  it("are listed with the project, the latest first", async () => {
    const [one, two] = [await ask("one"), await ask("two")];
    expect((await mastersOf(project)).map(({ id }) => id)).toEqual([two.id, one.id]);
    expect(await row<{ n: number }>("select count(*)::int as n from master where project_id = $1", [project])).toEqual({
      n: 2,
    });
  });
});
