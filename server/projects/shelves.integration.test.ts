/** Projects from the library: renamed, copied, put away, taken out, and removed for good with all that is theirs alone. */
import { beforeAll, beforeEach, describe, expect, it } from "vitest";
import type { Command } from "@core/project/commands";
import { noise } from "@core/testing/signals";
import { addRecording } from "../../tests/integration/recording";
import { migrate, row, rows, transaction } from "../db/database";
import { requestMaster } from "../rendering/masters";
import { createProject, edit, historyOf, listProjects, openProject } from "./projects";
import { copyProject, emptyBin, removeProject, renameProject, shelveProject } from "./shelves";

let project: string;
let source: string;
let edits = 0;
async function make(command: Command): Promise<void> {
  const { head } = await openProject(project);
  const id = `00000000-0000-4000-a000-${String(++edits).padStart(12, "0")}`;
  await edit(project, { id, base: head, command, author: "test" });
}
const listed = async (id = project) => (await listProjects()).projects.find((one) => one.id === id);

beforeAll(migrate);
beforeEach(async () => {
  await rows("delete from job");
  source = (await addRecording("Weir.wav", [noise(1, 48_000, -20, 1)], 48_000)).hash;
  project = (await createProject("Weir", "broadcast", "test")).id;
  await make({
    type: "addSource",
    source: { hash: source, name: "Weir.wav" },
    item: { id: "one", name: "One", source, repairs: [], chain: [], markers: [] },
  });
});

describe("a project in the library", () => {
  it("is renamed by an edit that stands in its history", async () => {
    await renameProject(project, "The Weir Letters");
    expect((await listed())!.name).toBe("The Weir Letters");
    expect((await historyOf(project)).at(0)!.label).toBe("Call the project “The Weir Letters”");
    await expect(renameProject(project, " ")).rejects.toThrow();
  });
  it("is copied as it is now, without history, with the same recordings", async () => {
    const { id } = await copyProject(project);
    const copy = await openProject(id);
    expect(copy.document).toEqual({ ...(await openProject(project)).document, name: "Weir (copy)" });
    expect([copy.states, copy.undo]).toEqual([1, null]);
    expect(await rows("select hash from project_blob where project_id = $1", [id])).toEqual([{ hash: source }]);
  });
  it("is put away and taken out again, and nothing of it is lost", async () => {
    const before = await openProject(project);
    for (const shelf of ["archive", "bin", null] as const) {
      await shelveProject(project, shelf);
      expect((await listed())!.shelf).toBe(shelf);
    }
    expect(await openProject(project)).toEqual(before);
    await expect(shelveProject("00000000-0000-4000-8000-000000000000", "bin")).rejects.toThrow(/no such project/i);
  });
});

describe("the bin", () => {
  it("is the only place from which a project is removed for good, with history, masters and jobs", async () => {
    const { document } = await openProject(project);
    await requestMaster(project, "one", document.deliverables[0]!.id);
    await expect(removeProject(project)).rejects.toThrow(/delete the project first/);
    await shelveProject(project, "bin");
    await removeProject(project);
    for (const table of ["project_state", "master", "project_blob", "job"])
      expect(await row(`select 1 from ${table} where project_id = $1`, [project])).toBeUndefined();
    // The recording is another's as well, as far as anybody knows: the sweeper decides.
    expect(await row("select 1 from source where hash = $1", [source])).toBeDefined();
    expect(await listed()).toBeUndefined();
  });
  it("empties itself of what has lain there for long", async () => {
    await shelveProject(project, "bin");
    await transaction(emptyBin);
    expect(await listed()).toBeDefined();
    await rows("update project set shelved_at = now() - interval '31 days' where id = $1", [project]);
    await transaction(emptyBin);
    expect(await listed()).toBeUndefined();
  });
});
