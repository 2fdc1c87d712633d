/** Figures of items after all that is done to them, made in the background and told with the project. */
import { beforeAll, beforeEach, describe, expect, it } from "vitest";
import { newChainEntry } from "@core/processors";
import { newFormat } from "@core/delivery/recipe";
import type { Command } from "@core/project/commands";
import { PROGRAMME_ID } from "@core/project/document";
import { knownRecordings } from "@core/project/views";
import { noise } from "@core/testing/signals";
import { addRecording } from "../../tests/integration/recording";
import { migrate, rows } from "../db/database";
import { createProject, edit, openProject } from "../projects/projects";
import { findSources } from "../projects/sources";
import { runJob } from "../queue/job-runner";
import { enqueue, takeJob } from "../queue/queue";
import { processedProgramme } from "@core/project/programme-inputs";
import { overshootsOfItem } from "@core/project/wanted-overshoots";
import { measuredOvershoots } from "./encoding-overshoots";
import { itemFiguresFailed, itemFiguresJob, itemFiguresOf, requestItemFigures } from "./item-figures";

const RATE = 48_000;
const never = new AbortController().signal;

let project: string;
let source: string;
let edits = 0;
async function make(command: Command): Promise<void> {
  const { head } = await openProject(project);
  const id = `00000000-0000-4000-9000-${String(++edits).padStart(12, "0")}`;
  await edit(project, { id, base: head, command, author: "test" });
}
const gained = (item: string, gainDb: number): Command => ({
  type: "addProcessor",
  item,
  entry: { ...newChainEntry("gain", `g${gainDb}`), gainDb },
});
const figures = async () => {
  const { document } = await openProject(project);
  return itemFiguresOf(document, await findSources(document.sources.map(({ hash }) => hash)));
};
const jobs = () =>
  rows<{ subject: string; priority: number }>("select subject, priority from job where queue = 'figures'");
async function work(): Promise<void> {
  const job = (await takeJob("w", false))!;
  await runJob(job, { run: itemFiguresJob, failed: itemFiguresFailed }, never);
}

beforeAll(migrate);
beforeEach(async () => {
  await rows("delete from job");
  await rows("delete from item_render");
  source = (await addRecording("Weir.wav", [noise(3, RATE, -20, 1)], RATE)).hash;
  project = (await createProject("Weir", "broadcast", "test")).id;
  for (const id of ["one", "two"])
    await make({
      type: "addSource",
      source: { hash: source, name: "Weir.wav" },
      item: { id, name: id, source, repairs: [], chain: [], markers: [] },
    });
});

describe("figures of items after their chain", () => {
  it("are asked for where something is done, behind everything else, and told once they are measured", async () => {
    await make(gained("two", -6));
    await requestItemFigures(project, ["one", "two", "gone"]);
    expect(await jobs()).toEqual([{ subject: `${project}/two`, priority: -1 }]);
    expect(await figures()).toEqual([]);
    await work();
    const [one, ...others] = await figures();
    expect(others).toEqual([]);
    const [before] = await findSources([source]);
    expect(one!.figures.integratedLufs).toBeCloseTo(before!.figures!.integratedLufs! - 6, 3);
    expect(one!.overview_hash).toMatch(/^[0-9a-f]{64}$/);
    await requestItemFigures(project, ["two"]);
    expect(await jobs()).toEqual([]);
  });

  it("wait behind a render that is asked for later", async () => {
    await make(gained("one", -3));
    await requestItemFigures(project, ["one"]);
    await enqueue({ queue: "render", subject: "later", project, costSeconds: 1 });
    expect((await takeJob("w", false))!.queue).toBe("render");
  });

  it("are those of the item as it is now: another setting has others, the earlier one is found again", async () => {
    await make(gained("one", -6));
    await requestItemFigures(project, ["one"]);
    await work();
    const [first] = await figures();
    await make(gained("one", -2));
    expect(await figures()).toEqual([]);
    await requestItemFigures(project, ["one"]);
    await work();
    const [second] = await figures();
    expect(second!.figures.integratedLufs! - first!.figures.integratedLufs!).toBeCloseTo(-2, 3);
    const { document } = await openProject(project);
    await make({ type: "removeProcessor", item: "one", entry: document.items[0]!.chain[1]!.id! } as Command);
    expect((await figures())[0]!.hash).toBe(first!.hash);
  });

  it("come with what encoding adds to the peaks, of the item as it is; of what it was until that is measured", async () => {
    await rows("delete from encoding_overshoot");
    const format = newFormat({ container: "mp3", bitrateKbps: 96 });
    await make({ type: "addDeliverable", deliverable: { id: "lossy", spec: "streaming-14", format } });
    await requestItemFigures(project, ["one"]);
    await work();
    const overshoots = async () => {
      const { document } = await openProject(project);
      const known = knownRecordings(await findSources(document.sources.map(({ hash }) => hash)));
      return measuredOvershoots(overshootsOfItem(document, document.items[0]!, known));
    };
    const [own, ...others] = await overshoots();
    expect(others).toEqual([]);
    expect(own).toMatchObject({ isExact: true, limitingDb: [0, 3, 8] });
    for (const over of own!.overshootDb) expect(Math.abs(over)).toBeLessThan(6);
    // Noise at 96 kbit/s does not come back as it was.
    expect(Math.max(...own!.overshootDb.map(Math.abs))).toBeGreaterThan(0.01);
    await requestItemFigures(project, ["one"]);
    expect(await jobs()).toEqual([]);
    await make(gained("one", -6));
    expect(await overshoots()).toEqual([{ ...own, hash: expect.not.stringMatching(own!.hash), isExact: false }]);
    await requestItemFigures(project, ["one"]);
    await work();
    const [after] = await overshoots();
    expect(after!.isExact).toBe(true);
    // It is measured at the ceiling: a gain changes nothing.
    for (const [i, over] of after!.overshootDb.entries()) expect(over).toBeCloseTo(own!.overshootDb[i]!, 1);
  });

  it("are not made of an item that went before its turn came", async () => {
    await make(gained("one", -6));
    await requestItemFigures(project, ["one"]);
    await make({ type: "removeItem", item: "one" } as Command);
    await work();
    expect(await jobs()).toEqual([]);
    expect(await rows("select 1 from item_render")).toEqual([]);
  });

  it("are made of the programme where it is delivered, after its chain, in the mix that it is delivered of", async () => {
    const quiet = (await addRecording("Weir, voices.wav", [noise(3, RATE, -32, 2)], RATE)).hash;
    await make({
      type: "addSource",
      source: { hash: quiet, name: "Weir, voices.wav" },
      item: { id: "arrived", name: "Weir, voices", source: quiet, repairs: [], chain: [], markers: [] },
    });
    await make({
      type: "replaceRecordings",
      replacements: [{ item: "one", source: quiet, mix: "voices", arrived: "arrived" }],
    });
    await make(gained(PROGRAMME_ID, -6));
    await requestItemFigures(project, [PROGRAMME_ID]);
    expect(await jobs()).toEqual([]);
    for (const mix of ["main", "voices"])
      await make({
        type: "addDeliverable",
        deliverable: { id: mix, spec: "ebu-r128", format: newFormat({}), programme: "one file", mix },
      });
    await requestItemFigures(project, [PROGRAMME_ID]);
    expect(await jobs()).toEqual([{ subject: `${project}/${PROGRAMME_ID}`, priority: -1 }]);
    await work();
    const { document } = await openProject(project);
    const sources = await findSources(document.sources.map(({ hash }) => hash));
    const found = await itemFiguresOf(document, sources);
    const of = (mix: string) => {
      const { hash } = processedProgramme(document, mix, knownRecordings(sources))!;
      return found.find((one) => one.hash === hash)!.figures;
    };
    const before = sources.find(({ hash }) => hash === source)!.figures!;
    expect(of("main").integratedLufs).toBeCloseTo(before.integratedLufs! - 6, 1);
    expect(of("main").durationSeconds).toBeCloseTo(6, 1);
    // Half of it is 12 dB quieter: the power of both halves' mean, below the relative gate.
    expect(of("voices").integratedLufs!).toBeLessThan(of("main").integratedLufs! - 0.1);
    expect(of("voices").samplePeakDbfs!).toBeCloseTo(of("main").samplePeakDbfs!, 1);
  });
});
