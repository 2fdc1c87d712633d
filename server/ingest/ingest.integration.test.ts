/** From an upload to a recording, an item, a master and a hand-over, on the real PostgreSQL, interrupted anywhere. */
import { execFileSync } from "node:child_process";
import { createHash, randomUUID } from "node:crypto";
import { readdir, readFile, rm, writeFile } from "node:fs/promises";
import { join } from "node:path";
import { beforeAll, describe, expect, it } from "vitest";
import { MemorySink } from "@core/files/bytes";
import { WavWriter } from "@core/files/wav-writer";
import { layoutForChannels } from "@core/audio/layout";
import { noise } from "@core/testing/signals";
import { blobs } from "../storage/blobs";
import { config } from "../config";
import { migrate, row, rows } from "../db/database";
import { runSubmission, submissionFailed, requestSubmission, submissionsOf } from "../delivery/submission";
import { runJob, type Handler } from "../queue/job-runner";
import { masterOf, mastersOf, renderFailed, renderMasterJob, requestMaster } from "../rendering/masters";
import { deliveryOf } from "../delivery/documents";
import { prepareSource, preparationFailed } from "./prepare";
import { searchEventsFailed, searchEventsJob } from "./search-events";
import { createProject, edit, openProject } from "../projects/projects";
import { duringRequest, studioPrincipal } from "../people/principal";
import { takeJob } from "../queue/queue";
import { reconcile, cancelUnwantedJobs } from "../worker/reconcile";
import { discardUpload, reconcileUploads, takeArrived, uploadServer, uploadsOf } from "./uploads";
import { documentsZip } from "../delivery/zip";

beforeAll(async () => {
  await migrate();
  uploadServer();
});

const never = new AbortController().signal;
const HANDLERS: Record<string, Handler> = {
  prepare: { run: prepareSource, failed: preparationFailed },
  search: { run: searchEventsJob, failed: searchEventsFailed },
  render: { run: renderMasterJob, failed: renderFailed },
  submission: { run: runSubmission, failed: submissionFailed },
};
/** Works off the queue, as a worker does. */
async function workOff(): Promise<void> {
  for (let job = await takeJob("test", false); job; job = await takeJob("test", false))
    await runJob(job, HANDLERS[job.queue]!, never);
}

async function wav(seed: number, seconds = 1): Promise<Buffer> {
  const sink = new MemorySink();
  const writer = await WavWriter.open(sink, { sampleRate: 48_000, layout: layoutForChannels(1), format: "32f" });
  await writer.writeFloat([noise(seconds, 48_000, -20, seed)], Math.round(48_000 * seconds));
  await writer.finish();
  return Buffer.from(sink.bytes());
}

const newProject = async (name = "Tide"): Promise<string> => (await createProject(name, "music", "test")).id;
const encoded = (text: string) => Buffer.from(text).toString("base64");

/** Asks the upload server as the page of a studio without accounts does. */
const ask = (request: Request): Promise<Response> =>
  duringRequest({ principal: studioPrincipal(null), project: null, subject: null }, () =>
    uploadServer().handleWeb(request),
  );

/** Begins an upload as a page does. */
async function begin(project: string, name: string, bytes: number, key = ""): Promise<string> {
  const response = await ask(
    new Request("http://127.0.0.1/api/uploads", {
      method: "POST",
      headers: {
        "Tus-Resumable": "1.0.0",
        "Upload-Length": String(bytes),
        "Upload-Metadata": `filename ${encoded(name)},project ${encoded(project)}${key && `,key ${encoded(key)}`}`,
      },
    }),
  );
  expect(response.status).toBe(201);
  return response.headers.get("location")!.split("/").pop()!;
}
const send = (id: string, bytes: Buffer, offset = 0) =>
  ask(
    new Request(`http://127.0.0.1/api/uploads/${id}`, {
      method: "PATCH",
      headers: {
        "Tus-Resumable": "1.0.0",
        "Upload-Offset": String(offset),
        "Content-Type": "application/offset+octet-stream",
      },
      body: new Uint8Array(bytes),
    }),
  );
async function upload(project: string, name: string, bytes: Buffer): Promise<string> {
  const id = await begin(project, name, bytes.length);
  expect((await send(id, bytes)).status).toBe(204);
  return id;
}
const itemsOf = async (project: string) => (await openProject(project)).document.items.map(({ name }) => name);
const fileOf = (id: string) => join(config.dataFolder, "uploads", id);

describe("an upload", () => {
  it("becomes a recording and an item, once, and leaves nothing of itself", async () => {
    const project = await newProject();
    const bytes = await wav(1);
    const id = await upload(project, "Reed.wav", bytes);
    await reconcileUploads();
    expect(await itemsOf(project)).toEqual(["Reed"]);
    expect(await uploadsOf(project)).toEqual([]);
    expect((await readdir(join(config.dataFolder, "uploads"))).filter((name) => name.startsWith(id))).toEqual([]);
    await workOff();
    const hash = createHash("sha256").update(bytes).digest("hex");
    expect(await row("select state, bytes from source where hash = $1", [hash])).toEqual({
      state: "ready",
      bytes: bytes.length,
    });
    expect(await readFile(await blobs.fileOf(hash))).toEqual(bytes);
  });
  it.each(["whole, its answer lost", "hashed", "moved to the blobs"])(
    "that was interrupted when it was %s is taken over",
    async (at) => {
      const project = await newProject();
      const bytes = await wav(at.length);
      const id = await begin(project, "Long Watch.wav", bytes.length);
      await writeFile(fileOf(id), bytes); // all arrived, and then the server was killed
      const hash = createHash("sha256").update(bytes).digest("hex");
      if (at !== "whole, its answer lost") await rows("update upload set hash = $2 where id = $1", [id, hash]);
      if (at === "moved to the blobs") await blobs.adopt(fileOf(id));
      expect(await itemsOf(project)).toEqual([]);
      await Promise.all([reconcileUploads(), reconcileUploads()]);
      await reconcileUploads();
      expect(await itemsOf(project)).toEqual(["Long Watch"]);
      expect(await uploadsOf(project)).toEqual([]);
      expect(await blobs.isWhole(hash)).toBe(true);
    },
  );
  it("of a recording that a project waits for is read, and makes no second item", async () => {
    const project = await newProject();
    const bytes = await wav(21);
    await upload(project, "Late.wav", bytes);
    await reconcileUploads();
    await workOff();
    const hash = createHash("sha256").update(bytes).digest("hex");
    // As it is where a project came without it.
    await rows("update source set state = 'failed', problem = 'It did not come.', pcm_hash = null where hash = $1", [
      hash,
    ]);
    await blobs.store.remove(hash);
    await upload(project, "Late, again.wav", bytes);
    await reconcileUploads();
    await workOff();
    expect(await itemsOf(project)).toEqual(["Late"]);
    expect(await uploadsOf(project)).toEqual([]);
    expect(await row("select state, name from source where hash = $1", [hash])).toEqual({
      state: "ready",
      name: "Late.wav",
    });
    expect(await blobs.isWhole(hash)).toBe(true);
  });
  it("that is still under way is left alone; one that lost its file, or is a week old, is forgotten", async () => {
    const project = await newProject();
    const bytes = await wav(3);
    const going = await begin(project, "Going.wav", bytes.length);
    await send(going, bytes.subarray(0, 1000));
    const lost = await begin(project, "Lost.wav", 1000);
    await rm(fileOf(lost));
    const old = await begin(project, "Old.wav", 1000);
    await rows("update upload set created_at = now() - interval '2 minutes' where id = $1", [lost]);
    await rows("update upload set created_at = now() - interval '8 days' where id = $1", [old]);
    await reconcileUploads();
    expect((await uploadsOf(project)).map(({ name, received }) => ({ name, received }))).toEqual([
      { name: "Going.wav", received: 1000 },
    ]);
    expect((await send(going, bytes.subarray(1000), 1000)).status).toBe(204);
    expect(await itemsOf(project)).toEqual(["Going"]);
  });
  it("whose first answer was lost is begun again and not beside it; nothing that has arrived is begun again", async () => {
    const project = await newProject();
    const bytes = await wav(7);
    const key = randomUUID();
    const ids = [
      await begin(project, "Once.wav", bytes.length, key),
      await begin(project, "Once.wav", bytes.length, key),
    ];
    expect(ids).toEqual([key, key]);
    expect(await uploadsOf(project)).toHaveLength(1);
    await send(key, bytes.subarray(0, 500));
    const other = await begin(project, "Other.wav", 1000, key);
    expect(other).not.toBe(key);
    await rows("update upload set created_at = now() - interval '2 hours' where project_id = $1", [project]);
    await reconcileUploads();
    expect((await uploadsOf(project)).map(({ received }) => received)).toEqual([500]);
    expect((await send(key, bytes.subarray(500), 500)).status).toBe(204);
    expect(await itemsOf(project)).toEqual(["Once"]);
  });
  it("of the same recording asks whether a second item is wanted", async () => {
    const project = await newProject();
    const bytes = await wav(4);
    await upload(project, "Once.wav", bytes);
    const again = await upload(project, "Twice.wav", bytes);
    expect(await itemsOf(project)).toEqual(["Once"]);
    expect(await uploadsOf(project)).toMatchObject([
      { name: "Twice.wav", duplicateOf: "Once", received: bytes.length },
    ]);
    await reconcileUploads();
    expect(await itemsOf(project)).toEqual(["Once"]);
    await takeArrived(project, again);
    expect(await itemsOf(project)).toEqual(["Once", "Twice"]);
    const third = await upload(project, "Thrice.wav", bytes);
    await discardUpload(project, third);
    expect(await itemsOf(project)).toEqual(["Once", "Twice"]);
    expect(await uploadsOf(project)).toEqual([]);
  });
  it("heals a recording whose sound is gone from the store", async () => {
    const project = await newProject();
    const bytes = await wav(5);
    await upload(project, "Heal.wav", bytes);
    await workOff();
    const hash = createHash("sha256").update(bytes).digest("hex");
    const { pcm_hash: pcm } = (await row<{ pcm_hash: string }>("select pcm_hash from source where hash = $1", [hash]))!;
    for (const lost of new Set([hash, pcm])) await rm(await blobs.store.fileOf(lost));
    expect(await blobs.isWhole(pcm)).toBe(false);
    await upload(await newProject("Another"), "Heal.wav", bytes);
    await workOff();
    expect([await blobs.isWhole(hash), await blobs.isWhole(pcm)]).toEqual([true, true]);
  });
  it("under any name is taken in", async () => {
    const project = await newProject();
    const names = [`${"声".repeat(120)}.wav`, `${"x".repeat(400)}.wav`, "\u202ecod.wav", "a\u0007b.wav"];
    for (const [n, name] of names.entries()) await upload(project, name, await wav(60 + n));
    const items = await itemsOf(project);
    expect(items).toHaveLength(names.length);
    for (const item of items) expect(item).not.toMatch(/[\u202e\u0007]/);
  });
});

describe("an unreadable file", () => {
  it("is told of, and is no item; read again and readable, it becomes one", async () => {
    const project = await newProject();
    await upload(project, "Letter.mp3", Buffer.from("Dear Odda, the river is quiet. ".repeat(40)));
    expect(await itemsOf(project)).toEqual(["Letter"]);
    await workOff();
    expect(await itemsOf(project)).toEqual([]);
    const { sources } = (await openProject(project)).document;
    expect(sources).toHaveLength(1);
    expect(await row("select state, problem from source where hash = $1", [sources[0]!.hash])).toMatchObject({
      state: "failed",
      problem: expect.stringMatching(/does not look like a sound/),
    });
  });
  it("that names other files of the machine plays nothing of them", async () => {
    const project = await newProject();
    const other = join(config.dataFolder, "other.mp3");
    execFileSync("ffmpeg", ["-v", "error", "-y", "-f", "lavfi", "-i", "sine=d=1", other]);
    const list = `#EXTM3U\n#EXT-X-TARGETDURATION:3\n#EXTINF:3,\n${other}\n`;
    await upload(project, "song.mp3", Buffer.from(`${list}#EXT-X-ENDLIST\n`));
    await upload(project, "live.mp3", Buffer.from(list));
    const began = Date.now();
    await workOff();
    expect(Date.now() - began).toBeLessThan(20_000); // a live list holds nobody up
    expect(await itemsOf(project)).toEqual([]);
    const { sources } = (await openProject(project)).document;
    for (const { hash } of sources)
      expect(await row("select pcm_hash, problem from source where hash = $1", [hash])).toEqual({
        pcm_hash: null,
        problem: expect.stringMatching(/^This is a playlist/),
      });
  });
});

/** A project with items that are read, and all its masters rendered. */
async function mastered(names: string[]): Promise<{ project: string; items: string[]; deliverable: string }> {
  const project = await newProject("Two / Tides");
  for (const [n, name] of names.entries())
    await upload(project, `${name}.wav`, await wav(100 + n + names.length * 7, 2));
  await workOff();
  const { document } = await openProject(project);
  const deliverable = document.deliverables[0]!.id;
  await edit(project, { base: null, command: { type: "setNaming", naming: "{title}" }, author: "test" });
  const items = document.items.map(({ id }) => id);
  for (const item of items) await requestMaster(project, item, deliverable);
  await workOff();
  return { project, items, deliverable };
}

describe("masters", () => {
  it("stay verified when another item comes, and only their header is rewritten for other tags", async () => {
    const { project, items, deliverable } = await mastered(["Low Door"]);
    const [before] = await mastersOf(project);
    expect(before!.state).toBe("done");
    await upload(project, "Later.wav", await wav(300));
    await workOff();
    expect((await deliveryOf(project)).masters.map(({ master }) => master.id)).toEqual([before!.id]);

    const about = { artist: "Odda Vane", composer: "", isrc: "", comment: "" };
    await edit(project, { base: null, command: { type: "describeItem", item: items[0]!, about }, author: "test" });
    expect((await deliveryOf(project)).masters).toEqual([]);
    // The item's sound is not worked on: it would not be there.
    await rows("delete from item_render");
    await rows("update source set pcm_hash = null where hash = $1", [before!.inputs.source]);
    await requestMaster(project, items[0]!, deliverable);
    await workOff();
    const { masters } = await deliveryOf(project);
    expect(masters[0]!.master).toMatchObject({ state: "done", result: before!.result });
    expect(masters[0]!.master.file_hash).not.toBe(before!.file_hash);
    expect((await readFile(await blobs.fileOf(masters[0]!.master.file_hash!))).includes("Odda Vane")).toBe(true);
  });
  it("that nobody wants any more are stopped, and those that are wanted go on", async () => {
    const { project, items, deliverable } = await mastered(["Stays", "Gone"]);
    for (const id of items) {
      const about = { artist: "Other", composer: "", isrc: "", comment: "" };
      await edit(project, { base: null, command: { type: "describeItem", item: id, about }, author: "test" });
    }
    const asked = [
      await requestMaster(project, items[0]!, deliverable),
      await requestMaster(project, items[1]!, deliverable),
    ];
    await edit(project, { base: null, command: { type: "removeItem", item: items[1]! }, author: "test" });
    await cancelUnwantedJobs();
    expect(await Promise.all(asked.map(async ({ id }) => (await masterOf(id)).state))).toEqual([
      "waiting",
      "cancelled",
    ]);
    expect(await rows("select subject from job where queue = 'render'")).toEqual([{ subject: asked[0]!.id }]);
    await workOff();
    expect((await masterOf(asked[0]!.id)).state).toBe("done");
  });
  it("whose file is lost fail a zip with their names, and are rendered again to the same bytes", async () => {
    const { project, items, deliverable } = await mastered(["Lost", "Kept"]);
    const [lost] = (await deliveryOf(project)).masters;
    await rm(await blobs.store.fileOf(lost!.master.file_hash!));
    await expect(documentsZip(await deliveryOf(project))).rejects.toThrow(/Not all masters are there.*Lost\.wav/);
    expect((await requestMaster(project, items[0]!, deliverable)).state).toBe("waiting");
    await workOff();
    expect(await blobs.isWhole(lost!.master.file_hash!)).toBe(true);
    await documentsZip(await deliveryOf(project)).then((stream) => stream.cancel());
  });
  it("left waiting without a job, as a crash of an earlier version could, are found again", async () => {
    const { project, items, deliverable } = await mastered(["Found"]);
    const [master] = await mastersOf(project);
    await rows("update master set state = 'rendering', file_hash = null where id = $1", [master!.id]);
    await rows("insert into submission (project_id, receiver, deliverable_id) values ($1, 'folder', $2)", [
      project,
      deliverable,
    ]);
    await reconcile();
    const jobs = await rows<{ queue: string }>("select queue from job where project_id = $1 order by queue", [project]);
    expect(jobs.map(({ queue }) => queue)).toEqual(["render", "submission"]);
    await rows("delete from job");
    await rows("delete from submission where project_id = $1", [project]);
    await rows("delete from master where project_id = $1", [project]);
    expect(items).toHaveLength(1);
  });
});

describe("a hand-over to a folder", () => {
  const filesBelow = async (folder: string): Promise<string[]> =>
    (await readdir(folder, { recursive: true, withFileTypes: true }))
      .filter((entry) => entry.isFile())
      .map(({ name }) => name);

  it("holds every master, however their names clash, in a folder of its own project", async () => {
    const first = await mastered(["Tide", "tide", "TIDE?", "声".repeat(90)]);
    const second = await mastered(["Tide"]);
    for (const { project, deliverable } of [first, second]) await requestSubmission(project, "folder", deliverable);
    await workOff();
    expect((await submissionsOf(first.project))[0]).toMatchObject({ state: "accepted", files: { length: 4 } });
    const folders = await readdir(config.submissionsFolder);
    expect(folders).toHaveLength(2);
    const masters = (
      await filesBelow(
        join(
          config.submissionsFolder,
          folders.find((name) => name.includes(first.project.slice(0, 8)))!,
        ),
      )
    ).filter((name) => name.endsWith(".wav"));
    expect(new Set(masters.map((name) => name.toLowerCase())).size).toBe(4);
  });
  it("that is interrupted goes on where it stopped, and is there as a whole or not at all", async () => {
    const { project, deliverable } = await mastered(["One", "Two", "Three"]);
    const { id } = await requestSubmission(project, "folder", deliverable);
    // A change after it was asked for changes nothing of it.
    await edit(project, { base: null, command: { type: "setNaming", naming: "{title} later" }, author: "test" });
    const ofProject = async () =>
      (await readdir(config.submissionsFolder)).find((name) => name.includes(project.slice(0, 8)));
    const stop = new AbortController();
    const cut = runSubmission({
      subject: id,
      signal: stop.signal,
      progress: () => undefined,
      end: async () => {
        throw new Error("killed before the end");
      },
    });
    await expect(cut).rejects.toThrow("killed");
    expect((await row<{ state: string }>("select state from submission where id = $1", [id]))!.state).toBe("waiting");
    await workOff();
    const [handed] = await submissionsOf(project);
    expect(handed).toMatchObject({ state: "accepted" });
    expect(handed!.files.map(({ name }) => name)).toEqual(["One.wav", "Two.wav", "Three.wav"]);
    const inside = await readdir(join(config.submissionsFolder, (await ofProject())!));
    expect(inside).toHaveLength(1);
    expect(inside[0]).not.toMatch(/making/);
  });
  it("of masters that are gone says so, and hands over none of them", async () => {
    const { project, deliverable } = await mastered(["Half", "Whole"]);
    await requestSubmission(project, "folder", deliverable);
    await rows("delete from master where project_id = $1 and inputs->'tags'->>'title' = 'Half'", [project]);
    await workOff();
    const [handed] = await submissionsOf(project);
    expect(handed).toMatchObject({ state: "failed", problem: expect.stringMatching(/Not all masters/) });
    expect((await readdir(config.submissionsFolder)).some((name) => name.includes(project.slice(0, 8)))).toBe(false);
  });
});
