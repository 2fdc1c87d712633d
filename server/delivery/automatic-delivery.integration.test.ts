/** Deliverables that are kept up to date by themselves, on the real PostgreSQL: rendered, verified, handed over. */
import { mkdir, readdir, readFile, writeFile } from "node:fs/promises";
import { join } from "node:path";
import { beforeAll, beforeEach, describe, expect, it } from "vitest";
import { newFormat } from "@core/delivery/recipe";
import { layoutNamed } from "@core/audio/layout";
import { newChainEntry } from "@core/processors";
import type { Command } from "@core/project/commands";
import type { Deliverable } from "@core/project/document";
import { noise } from "@core/testing/signals";
import { addRecording } from "../../tests/integration/recording";
import { config } from "../config";
import { migrate, row, rows } from "../db/database";
import { createProject, edit, openProject } from "../projects/projects";
import { copyProject } from "../projects/shelves";
import { chooseLayout } from "../projects/sources";
import { runJob, type Handlers } from "../queue/job-runner";
import { takeJob } from "../queue/queue";
import { cancelMaster, mastersOf, renderFailed, renderMasterJob } from "../rendering/masters";
import { hashFile } from "../storage/byte-files";
import { automaticDeliveriesOf, deliverAgain, deliverDue } from "./automatic-delivery";
import { runSubmission, submissionFailed, submissionsOf } from "./submission";

const RATE = 48_000;
const HANDLERS: Partial<Handlers> = {
  render: { run: renderMasterJob, failed: renderFailed },
  submission: { run: runSubmission, failed: submissionFailed },
};

let project: string;
let hash: string;
let made = 0;
const make = async (command: Command) => {
  const { head } = await openProject(project);
  const id = `00000000-0000-4000-8000-${String(++made).padStart(12, "0")}`;
  await edit(project, { id, base: head, command, author: "test" });
};
const deliverTo = (receiver: string | null, more: Partial<Deliverable> = {}) =>
  make({
    type: "addDeliverable",
    deliverable: { id: "cut", spec: "streaming-14", format: newFormat(), automatic: { receiver }, ...more },
  });

beforeAll(migrate);
beforeEach(async () => {
  await rows("delete from job");
  await rows("update project set delivered_head = head");
  project = (await createProject("Weir Lights", "music", "test")).id;
  for (const { id } of (await openProject(project)).document.deliverables)
    await make({ type: "removeDeliverable", deliverable: id });
  ({ hash } = await addRecording("Reel 1.wav", [noise(3, RATE, -20, made), noise(3, RATE, -20, made + 1)], RATE));
  const item = { id: "reel", name: "Reel 1", source: hash, repairs: [], chain: [], markers: [] };
  await make({ type: "addSource", source: { hash, name: "Reel 1.wav" }, item });
});

/** As after a minute in which nothing was changed. */
const standStill = () =>
  rows("update project set head_moved_at = now() - interval '61 seconds' where id = $1", [project]);
async function work(): Promise<void> {
  for (let job = await takeJob("w", false); job; job = await takeJob("w", false)) {
    const handler = HANDLERS[job.queue];
    if (handler) await runJob(job, handler, new AbortController().signal);
  }
}
const look = async () => {
  await deliverDue();
  return (await automaticDeliveriesOf(project))[0];
};
/** Until nothing is left to do. */
async function settle() {
  await standStill();
  for (let looks = 0; looks < 4; looks++) {
    await deliverDue();
    await work();
  }
  return look();
}
const isSettled = async () =>
  (await row<{ settled: boolean }>(
    "select head is not distinct from delivered_head as settled from project where id = $1",
    [project],
  ))!.settled;

const filesIn = async (kind: string) => {
  const ofProject = join(config.submissionsFolder, `Weir Lights ${project.slice(0, 8)}`);
  const [folder] = (await readdir(ofProject)).filter((name) => name.includes(kind));
  return { folder: join(ofProject, folder!), names: (await readdir(join(ofProject, folder!))).sort() };
};
const louder = (gainDb: number) =>
  make({ type: "addProcessor", item: "reel", entry: { ...newChainEntry("gain", `g${gainDb}`), gainDb } });

describe("an automatic delivery", () => {
  it("waits until the project stands still, renders, verifies, and hands over", async () => {
    await deliverTo("latest");
    expect(await look()).toBeUndefined();
    expect(await mastersOf(project)).toEqual([]);
    await standStill();
    expect(await look()).toMatchObject({ state: "rendering", problem: null });
    await work();
    expect(await look()).toMatchObject({ state: "submitting" });
    expect(await isSettled()).toBe(false);
    await work();
    expect(await look()).toMatchObject({ state: "done", problem: null });
    expect(await isSettled()).toBe(true);
    const { folder, names } = await filesIn("latest");
    const [master] = await mastersOf(project);
    const [file] = names.filter((name) => name.endsWith(".wav"));
    expect((await hashFile(join(folder, file!))).hash).toBe(master!.file_hash);
    expect(names).toContain("Manifest.json");
    expect(names.filter((name) => name.startsWith(".making"))).toEqual([]);
    const trail = await rows("select subject from audit where project_id = $1 and action like '%by itself'", [project]);
    expect(trail).toEqual([{ subject: "latest" }]);
  });

  it("puts the next state at the same paths, takes away what is gone, and leaves what is somebody else's", async () => {
    await deliverTo("latest");
    await settle();
    const first = await filesIn("latest");
    await writeFile(join(first.folder, "edit.prj"), "the editor's own");
    const [wav] = first.names.filter((name) => name.endsWith(".wav"));
    const before = (await hashFile(join(first.folder, wav!))).hash;
    await make({ type: "addProcessor", item: "reel", entry: newChainEntry("compressor", "c") });
    expect(await settle()).toMatchObject({ state: "done" });
    const second = await filesIn("latest");
    expect(second.folder).toBe(first.folder);
    expect((await hashFile(join(second.folder, wav!))).hash).not.toBe(before);

    await make({ type: "renameItem", item: "reel", name: "Reel one" });
    await make({ type: "renameProject", name: "Weir Lights, final" });
    expect(await settle()).toMatchObject({ state: "done" });
    const third = await filesIn("latest");
    expect(third.folder).toBe(first.folder);
    expect((await readdir(config.submissionsFolder)).filter((name) => name.endsWith(project.slice(0, 8)))).toHaveLength(
      1,
    );
    expect(third.names).not.toContain(wav);
    expect(third.names.filter((name) => name.endsWith(".wav"))).toHaveLength(1);
    expect(await readFile(join(third.folder, "edit.prj"), "utf8")).toBe("the editor's own");
  });

  it("hands the same files over once", async () => {
    await deliverTo("latest");
    await settle();
    await louder(3);
    await make({ type: "bypass", item: "reel", entry: "g3", bypass: true });
    await make({ type: "removeProcessor", item: "reel", entry: "g3" });
    expect(await settle()).toMatchObject({ state: "done" });
    expect(await submissionsOf(project)).toHaveLength(1);
  });

  it("to nobody renders, and is done", async () => {
    await deliverTo(null);
    expect(await settle()).toMatchObject({ state: "done" });
    expect((await mastersOf(project)).map(({ state }) => state)).toEqual(["done"]);
    expect(await submissionsOf(project)).toEqual([]);
  });

  it("holds back what fails its specification, and says which", async () => {
    await louder(-30);
    await deliverTo("latest", { spec: "audiobook-retail" });
    const standing = await settle();
    expect(standing).toMatchObject({ state: "held" });
    expect(standing!.problem).toBe("“Reel 1” fails its specification: nothing was submitted.");
    expect(await submissionsOf(project)).toEqual([]);
    expect(await isSettled()).toBe(true);
  });

  it("leaves what somebody stopped, until something is changed", async () => {
    await deliverTo("latest");
    await standStill();
    await deliverDue();
    await cancelMaster((await mastersOf(project))[0]!.id);
    expect(await look()).toMatchObject({ state: "held", problem: "“Reel 1” was stopped." });
    expect(await isSettled()).toBe(true);
    await deliverAgain(project); // asked for by hand
    expect(await settle()).toMatchObject({ state: "done" });
  });

  it("waits until an earlier state has arrived, and counts tries by state", async () => {
    await deliverTo("latest");
    await standStill();
    await deliverDue();
    await work();
    expect(await look()).toMatchObject({ state: "submitting" });
    await louder(2);
    await standStill();
    await deliverDue();
    await rows("update automatic_delivery set tries = 3");
    // The submission of before is in somebody's hands meanwhile.
    for (let next = await takeJob("w", false); next; next = await takeJob("w", false))
      if (next.queue === "render") await runJob(next, HANDLERS.render!, new AbortController().signal);
    expect(await look()).toMatchObject({ state: "rendering", problem: expect.stringMatching(/earlier state/) });
    await rows("update job set lease = null, leased_until = null");
    await work();
    expect(await look()).toMatchObject({ state: "submitting" });
    expect(await rows("select tries from automatic_delivery where project_id = $1", [project])).toEqual([{ tries: 1 }]);
    await work();
    expect(await look()).toMatchObject({ state: "done" });
  });

  it("tries a receiver again that cannot be reached, after a while", async () => {
    config.receivers.podcast = "http://127.0.0.1:9";
    await deliverTo("podcast");
    await settle();
    expect(await look()).toMatchObject({ state: "held", problem: expect.stringMatching(/cannot be reached/) });
    expect(await isSettled()).toBe(false);
    expect(await submissionsOf(project)).toHaveLength(1);
    await rows("update automatic_delivery set changed_at = now() - interval '2 minutes'");
    expect(await look()).toMatchObject({ state: "submitting" });
    expect(await submissionsOf(project)).toHaveLength(2);
    config.receivers.podcast = "";
  });

  it("looks again where a recording is read in another way", async () => {
    await deliverTo(null);
    await settle();
    await chooseLayout(hash, layoutNamed("stereo")!);
    expect(await isSettled()).toBe(false);
  });

  it("is not copied with its project", async () => {
    await deliverTo("latest");
    const copy = await copyProject(project);
    expect((await openProject(copy.id)).document.deliverables).toEqual([
      expect.not.objectContaining({ automatic: expect.anything() }),
    ]);
  });

  it("says that a folder cannot be written to", async () => {
    await mkdir(config.submissionsFolder, { recursive: true });
    await writeFile(join(config.submissionsFolder, `Weir Lights ${project.slice(0, 8)}`), "a file in its place");
    await deliverTo("latest");
    expect(await settle()).toMatchObject({
      state: "held",
      problem: expect.stringMatching(/^“.*Weir Lights.* cannot be written to \(ENOTDIR\)/),
    });
  });
});
