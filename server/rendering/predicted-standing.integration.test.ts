/** What the library tells of masters that are not rendered: predicted in the background, forgotten when anything changes. */
import { beforeAll, beforeEach, describe, expect, it } from "vitest";
import { newFormat } from "@core/delivery/recipe";
import { newChainEntry } from "@core/processors";
import type { Command } from "@core/project/commands";
import { newRepairStep } from "@core/repair";
import { noise } from "@core/testing/signals";
import { addRecording } from "../../tests/integration/recording";
import { migrate, rows } from "../db/database";
import { createProject, edit, openProject } from "../projects/projects";
import { runJob } from "../queue/job-runner";
import { takeJob } from "../queue/queue";
import { itemFiguresFailed, itemFiguresJob, requestItemFigures } from "./item-figures";
import { predictedStanding, predictStandingJob } from "./predicted-standing";
import { projectFacts } from "./project-facts";

let project: string;
let edits = 0;
async function make(command: Command): Promise<void> {
  const { head } = await openProject(project);
  const id = `00000000-0000-4000-b000-${String(++edits).padStart(12, "0")}`;
  await edit(project, { id, base: head, command, author: "test" });
}
const standing = async () => predictedStanding(project, await projectFacts(project));
async function work(run = predictStandingJob): Promise<void> {
  const job = (await takeJob("w", false))!;
  await runJob(job, { run, failed: itemFiguresFailed }, new AbortController().signal);
}

beforeAll(migrate);
beforeEach(async () => {
  await rows("delete from job");
  await rows("delete from item_render");
  const source = (await addRecording("Ferry.wav", [noise(6, 48_000, -20, 1)], 48_000)).hash;
  project = (await createProject("Ferry", "broadcast", "test")).id;
  const { document } = await openProject(project);
  for (const { id } of document.deliverables) await make({ type: "removeDeliverable", deliverable: id });
  await make({
    type: "addSource",
    source: { hash: source, name: "Ferry.wav" },
    item: { id: "one", name: "One", source, repairs: [], chain: [], markers: [] },
  });
  await make({ type: "addDeliverable", deliverable: { id: "d", spec: "ebu-r128", format: newFormat() } });
});

describe("the predicted standing of a project", () => {
  it("is asked for where it is not known, told once it is there, and counts both sides", async () => {
    expect(await standing()).toBeNull();
    await work();
    expect(await standing()).toEqual({ inside: 1, outside: 0 });
    // The audiobook's floor cannot be met by noise.
    await make({ type: "addDeliverable", deliverable: { id: "book", spec: "audiobook-retail", format: newFormat() } });
    expect(await standing()).toBeNull();
    await work();
    expect(await standing()).toEqual({ inside: 1, outside: 1 });
  });

  it("leaves out what is estimated, until it is measured", async () => {
    await make({ type: "addRepairs", item: "one", steps: [newRepairStep("hum", "r")] });
    expect(await standing()).toBeNull();
    await work();
    expect(await standing()).toEqual({ inside: 0, outside: 0 });
    await requestItemFigures(project, ["one"]);
    await work(itemFiguresJob);
    expect(await standing()).toBeNull();
    await work();
    expect(await standing()).toEqual({ inside: 1, outside: 0 });
  });

  it("does not wait for what was asked for before the last edit", async () => {
    expect(await standing()).toBeNull();
    await make({ type: "addProcessor", item: "one", entry: newChainEntry("gain", "g") });
    await work();
    expect(await standing()).toEqual({ inside: 1, outside: 0 });
  });
});
