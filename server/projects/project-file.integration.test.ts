/** A project goes to another studio as one file, with all that belongs to it, and what is wrong with a file is said. */
import { readFile, rm } from "node:fs/promises";
import { ZipArchive } from "archiver";
import { beforeAll, beforeEach, describe, expect, it } from "vitest";
import { layoutNamed } from "@core/audio/layout";
import type { Command } from "@core/project/commands";
import type { ProjectFile } from "@core/project/project-file";
import { newChainEntry } from "@core/processors";
import { noise } from "@core/testing/signals";
import { addRecording } from "../../tests/integration/recording";
import { migrate, row, rows } from "../db/database";
import { makePng } from "../reports/png";
import { blobs } from "../storage/blobs";
import { exportProject } from "./export-project";
import { importProject } from "./import-project";
import { createProject, edit, listProjects, openProject } from "./projects";
import { sourceOf } from "./sources";

let project: string;
let source: string;
let cover: string;

async function make(command: object): Promise<void> {
  const { head } = await openProject(project);
  await edit(project, { base: head, command: command as Command, author: "test" });
}
async function keep(bytes: Uint8Array): Promise<string> {
  const draft = await blobs.draft();
  await draft.sink().write(bytes);
  return (await draft.commit()).hash;
}
const bytesOf = async (stream: ReadableStream) => Buffer.from(await new Response(stream).arrayBuffer());
const exported = async (withRecordings = true) => bytesOf((await exportProject(project, withRecordings)).stream);
const imported = (bytes: Uint8Array) => importProject(new Response(Buffer.from(bytes)).body!, bytes.length);
/** Another studio: nothing of it is here. */
async function forget(): Promise<void> {
  await rows("delete from project");
  await rows("delete from source");
  await rows("delete from blob");
  await rm(blobs.store.folder, { recursive: true, force: true });
}
/** A file of these entries, stored. */
async function zipFileOf(entries: Record<string, string | Uint8Array>): Promise<Buffer> {
  const archive = new ZipArchive({ store: true });
  for (const [name, content] of Object.entries(entries))
    archive.append(typeof content === "string" ? content : Buffer.from(content), { name });
  const parts: Buffer[] = [];
  archive.on("data", (part: Buffer) => parts.push(part));
  await archive.finalize();
  return Buffer.concat(parts);
}
const isEmpty = async () => expect((await listProjects()).projects).toEqual([]);

beforeAll(migrate);
beforeEach(async () => {
  await forget();
  source = (await addRecording("Ferry: Night.wav", [noise(1, 48_000, -20, 1)], 48_000)).hash;
  await rows("update source set layout = $1, layout_chosen = true", [JSON.stringify(layoutNamed("mono"))]);
  project = (await createProject("Ferry / Songs", "music", "test")).id;
  const item = { id: "one", name: "Night", source, repairs: [], chain: [], markers: [] };
  await make({ type: "addSource", source: { hash: source, name: "Ferry: Night.wav" }, item });
  await make({ type: "addProcessor", item: "one", entry: { ...newChainEntry("gain", "g"), gainDb: -3 } });
  cover = await keep(makePng(32));
  const { about } = (await openProject(project)).document;
  await make({ type: "describeProject", about: { ...about, cover } });
});

describe("a project as one file", () => {
  it("is the same project where it is opened, its recordings read as they came", async () => {
    const { document } = await openProject(project);
    const sound = await readFile(await blobs.fileOf(source));
    const { name, stream } = await exportProject(project, true);
    expect(name).toBe("Ferry - Songs.resonum.zip");
    const file = await bytesOf(stream);
    await forget();
    const { id, missing } = await imported(file);
    expect(missing).toEqual([]);
    expect((await openProject(id)).document).toEqual(document);
    expect(Buffer.compare(await readFile(await blobs.fileOf(source)), sound)).toBe(0);
    expect(await blobs.isWhole(cover)).toBe(true);
    expect(await sourceOf(source)).toMatchObject({ state: "waiting", layout_chosen: true, layout: { name: "mono" } });
    expect(await rows("select 1 from job where queue = 'prepare' and subject = $1", [source])).toHaveLength(1);
    for (const hash of [source, cover])
      expect(
        (await row<{ n: number }>("select reference_count as n from blob where hash = $1", [hash]))!.n,
      ).toBeGreaterThan(0);
  });

  it("stands beside the one that it was made of, and copies nothing that is there", async () => {
    const file = await exported();
    const { id } = await imported(file);
    expect(id).not.toBe(project);
    expect((await listProjects()).projects).toHaveLength(2);
    expect(await sourceOf(source)).toMatchObject({ state: "ready" });
  });

  it("without recordings is small, finds those that are here, and waits for those that are not", async () => {
    const file = await exported(false);
    expect(file.length).toBeLessThan(30_000);
    expect((await imported(file)).missing).toEqual([]);
    await forget();
    const { id, missing } = await imported(file);
    expect(missing).toEqual(["Ferry: Night.wav"]);
    expect((await openProject(id)).document.items).toHaveLength(1);
    expect(await sourceOf(source)).toMatchObject({ state: "failed", problem: expect.stringMatching(/did not come/) });
  });

  it("is not made where a recording is damaged", async () => {
    await rm(await blobs.store.fileOf(source));
    await expect(exported()).rejects.toThrow(/not all recordings are there.*Ferry: Night.wav/i);
  });
});

describe("a file that is no project", () => {
  const description = async (change: (about: ProjectFile) => unknown): Promise<string> => {
    const { document } = await openProject(project);
    const recordings = [{ sha256: source, name: "Night.wav", bytes: 1, path: null, layout: null, track: 0 }];
    const about = { format: "resonum-project", version: 1, exportedAt: new Date().toISOString(), coreVersion: "1" };
    return JSON.stringify(change({ ...about, document, recordings, pictures: [] } as ProjectFile));
  };
  it.each([
    ["is no zip", async () => Buffer.from("RIFF, not a zip at all, but long enough to be looked at"), /cut off/],
    ["is cut off", async () => (await exported()).subarray(0, 20_000), /cut off/],
    ["is another zip", () => zipFileOf({ "readme.txt": "hello" }), /no project.json/],
    ["has a description that is no JSON", () => zipFileOf({ "project.json": "{" }), /is no JSON/],
    [
      "is of a newer version",
      () => zipFileOf({ "project.json": '{"format":"resonum-project","version":2}' }),
      /newer version/,
    ],
    [
      "describes something else",
      () => zipFileOf({ "project.json": '{"format":"songs","version":1}' }),
      /not as expected/,
    ],
    [
      "has a document that cannot be opened",
      async () =>
        zipFileOf({ "project.json": await description((about) => ({ ...about, document: { version: 2, name: 7 } })) }),
      /cannot be opened/,
    ],
    [
      "names a recording that it does not describe",
      async () => zipFileOf({ "project.json": await description((about) => ({ ...about, recordings: [] })) }),
      /says nothing of the recording/,
    ],
    [
      "lacks an entry",
      async () =>
        zipFileOf({
          "project.json": await description((about) => ({
            ...about,
            recordings: [{ ...about.recordings[0], path: "recordings/gone.wav" }],
          })),
        }),
      /“recordings\/gone.wav” is missing/,
    ],
    [
      "holds other bytes than it says, under a name that leads out of it",
      async () =>
        zipFileOf({
          "project.json": await description((about) => ({
            ...about,
            recordings: [{ ...about.recordings[0], sha256: "e".repeat(64), path: "inside.wav" }, about.recordings[0]],
          })),
          "inside.wav": "other bytes",
        }),
      /not what was exported/,
    ],
  ])("and %s is refused, and nothing is kept", async (_, file, words) => {
    const bytes = await file();
    await rows("delete from project");
    await expect(imported(bytes)).rejects.toThrow(words);
    await isEmpty();
  });

  it("with a bit turned in a recording is refused", async () => {
    const file = await exported();
    file[Math.floor(file.length / 2)]! ^= 1;
    await forget();
    await expect(imported(file)).rejects.toThrow(/damaged/);
    await isEmpty();
  });

  it("that is announced as empty, or of which more or less arrives, is refused", async () => {
    const file = await exported();
    const body = () => new Response(new Uint8Array(file)).body!;
    await expect(importProject(body(), 0)).rejects.toMatchObject({ status: 411 });
    await expect(importProject(body(), file.length - 1)).rejects.toMatchObject({ status: 413 });
    await expect(importProject(body(), file.length + 1)).rejects.toMatchObject({ status: 400 });
  });
});
