/** Masters of the whole programme on the real PostgreSQL: one file, files that join to the sample, and the queue. */
import { mkdtemp, rm } from "node:fs/promises";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { beforeAll, beforeEach, describe, expect, it } from "vitest";
import { openSoundFile } from "@core/files/open";
import { newFormat, type MasterFormat } from "@core/delivery/recipe";
import { SPEC_DEFAULTS } from "@core/delivery/spec";
import { joinedPlanar, slicePlanar, type Planar } from "@core/audio/units";
import { newChainEntry } from "@core/processors";
import { newFade } from "@core/programme/fade";
import { newDucker, ORDER, laneSchema } from "@core/programme/programme";
import { currentMasters } from "@core/project/delivery";
import type { Command } from "@core/project/commands";
import { PROGRAMME_ID, type Deliverable } from "@core/project/document";
import { knownRecordings, type Master } from "@core/project/views";
import { noise, sameBits } from "@core/testing/signals";
import { addRecording } from "../../tests/integration/recording";
import { migrate, rows, transaction } from "../db/database";
import { createProject, edit, openProject } from "../projects/projects";
import { findSources } from "../projects/sources";
import { runJob, type Handler } from "../queue/job-runner";
import { takeJob } from "../queue/queue";
import { decodeSound } from "../media/encode";
import { blobs, withBlob } from "../storage/blobs";
import { openFile } from "../storage/byte-files";
import { reconcile } from "../worker/reconcile";
import {
  cancelMaster,
  masterFileName,
  masterOf,
  mastersOf,
  renderFailed,
  renderMasterJob,
  requestMaster,
} from "./masters";

const RATE = 44_100;
const handler: Handler = { run: renderMasterJob, failed: renderFailed };
const never = new AbortController().signal;
const TITLES = ["Tin Lanterns", "Kestrel Weather", "Low Door"];

let project: string;
let edits = 0;
async function make(command: Command): Promise<void> {
  const { head } = await openProject(project);
  const id = `00000000-0000-4000-8000-${String(++edits).padStart(12, "0")}`;
  await edit(project, { id, base: head, command, author: "test" });
}
const place = (item: string, changes: Extract<Command, { type: "placeItems" }>["items"][number]["changes"]) =>
  make({ type: "placeItems", items: [{ item, changes }], what: "place" });

async function add(id: string, name: string, block: Planar, rate = RATE): Promise<void> {
  const { hash } = await addRecording(`${name}.wav`, block, rate);
  const item = { id, name, source: hash, repairs: [], chain: [], markers: [] };
  await make({ type: "addSource", source: { hash, name: `${name}.wav` }, item });
}

beforeAll(migrate);
beforeEach(async () => {
  await rows("delete from job");
  project = (await createProject("Saltmarsh Hours", "music", "test")).id;
  for (const [i, title] of TITLES.entries())
    await add(`i${i + 1}`, title, [noise(2, RATE, -20 + 3 * i, i + 1), noise(2, RATE, -20 + 3 * i, i + 11)]);
  await place("i2", { gapSeconds: 1.5, fadeIn: newFade(0.5) });
  await place("i3", { gapSeconds: -0.5, gainDb: -2 });
  await make({ type: "addProcessor", item: PROGRAMME_ID, entry: { ...newChainEntry("gain", "g"), gainDb: -1 } });
});

const deliver = async (
  programme: Deliverable["programme"],
  format: Partial<MasterFormat> = {},
  spec = "streaming-14",
) => make({ type: "addDeliverable", deliverable: { id: "whole", spec, format: newFormat(format), programme } });

async function work(): Promise<void> {
  for (let job = await takeJob("w", false); job; job = await takeJob("w", false))
    if (job.queue === "render") await runJob(job, handler, never);
}
/** Samples of a file that may be encoded without loss. */
async function decoded(master: Master): Promise<Planar> {
  const folder = await mkdtemp(join(tmpdir(), "programme-"));
  try {
    const out = join(folder, "out.wav");
    await decodeSound(await blobs.fileOf(master.file_hash!), 0, out);
    const bytes = await openFile(out);
    const file = (await openSoundFile(bytes))!;
    const block = await file.read(0, file.frames);
    await bytes.close();
    return block;
  } finally {
    await rm(folder, { recursive: true });
  }
}
const soundOf = (master: Master): Promise<Planar> =>
  withBlob(master.file_hash!, async (bytes) => {
    const file = (await openSoundFile(bytes))!;
    return file.read(0, file.frames);
  });
const current = async () => {
  const { document } = await openProject(project);
  const known = knownRecordings(await findSources(document.sources.map(({ hash }) => hash)));
  return currentMasters(document, await mastersOf(project), known).filter(
    ({ deliverable }) => deliverable.id === "whole",
  );
};

describe("a programme", () => {
  it("is one file of exact length, verified, whose titles are its chapters", async () => {
    await deliver("one file");
    const { id } = await requestMaster(project, PROGRAMME_ID, "whole");
    await work();
    const master = await masterOf(id);
    expect(master).toMatchObject({ state: "done", problem: null });
    expect(master.result!.verdict!.pass).toBe(true);
    expect(master.result!.figures.integratedLufs).toBeCloseTo(-14, 1);
    const [left] = await soundOf(master);
    expect(left).toHaveLength((2 + 1.5 + 2 - 0.5 + 2) * RATE);
    // The pause holds dither at the most.
    expect(Math.max(...left!.subarray(2.01 * RATE, 3.49 * RATE).map(Math.abs))).toBeLessThan(1e-6);
    expect(master.inputs.tags.chapters).toEqual([
      { title: "Tin Lanterns", startSeconds: 0 },
      { title: "Kestrel Weather", startSeconds: 3.5 },
      { title: "Low Door", startSeconds: 5 },
    ]);
    expect((await masterFileName(master)).name).toBe("Saltmarsh Hours - Streaming -14.wav");
  });

  it.each([
    ["wav", {}],
    ["flac", { container: "flac" }],
    ["aiff at another rate", { container: "aiff", sampleRate: 48_000 }],
  ] as const)("is cut into files that are the programme, bit for bit, one after the other: %s", async (_, format) => {
    await deliver("both", format);
    for (const item of [PROGRAMME_ID, "i1", "i2", "i3"]) await requestMaster(project, item, "whole");
    await work();
    const masters = await current();
    expect(masters.map(({ item }) => item.id)).toEqual([PROGRAMME_ID, "i1", "i2", "i3"]);
    const [whole, ...files] = masters;
    const parts = [];
    for (const { master } of files) parts.push(await decoded(master));
    expect(sameBits(joinedPlanar(parts, 2), await decoded(whole!.master))).toBe(true);
    for (const { master } of files) {
      expect(master.result!.verdict).not.toBeNull();
      expect(master.result!.figures.integratedLufs).not.toBeNull();
    }
    expect(files.map(({ master }) => master.inputs.tags.track)).toEqual([1, 2, 3]);
  });

  it("in files alone delivers them and not the whole, which was verified all the same", async () => {
    await deliver("item files");
    await requestMaster(project, "i2", "whole");
    await work();
    expect((await current()).map(({ item }) => item.id)).toEqual(["i2"]);
    const all = (await mastersOf(project)).filter(({ state }) => state === "done");
    expect(all.map(({ item_id }) => item_id).sort()).toEqual(["i2", PROGRAMME_ID]);
    // Another file is cut from it later.
    await requestMaster(project, "i1", "whole");
    await work();
    expect((await current()).map(({ item }) => item.id)).toEqual(["i1", "i2"]);
  });

  it("in stretches of its markers gives a file of each, cut from the whole", async () => {
    const markers = [
      { id: "m1", name: "Side A", start: 0.5, end: 2.5 },
      { id: "m2", name: "", start: 3 },
    ];
    await make({ type: "addProgrammeMarkers", markers });
    await deliver("marked stretches");
    for (const { id } of markers) await requestMaster(project, id, "whole");
    await work();
    const files = await current();
    expect(files.map(({ item, name }) => [item.id, name])).toEqual([
      ["m1", "Side A - Streaming -14.wav"],
      ["m2", "Stretch 2 - Streaming -14.wav"],
    ]);
    const whole = (await mastersOf(project)).find(({ item_id }) => item_id === PROGRAMME_ID)!;
    const [first] = await Promise.all(files.map(({ master }) => soundOf(master)));
    expect(sameBits(first!, slicePlanar(await soundOf(whole), 0.5 * RATE, 2.5 * RATE))).toBe(true);
    await make({ type: "addProgrammeMarkers", markers: [{ id: "m3", name: "Encore", start: 90 }] });
    await expect(requestMaster(project, "m3", "whole")).rejects.toThrow(/Nothing is left of the stretch “Encore”/);
  });

  it("fades a marker's stretch in and out, to silence at its ends, and copies what lies between", async () => {
    const marker = { id: "m1", name: "Sample", start: 0.5, end: 3.5, fadeInSeconds: 0.25, fadeOutSeconds: 1 };
    await make({ type: "addProgrammeMarkers", markers: [marker] });
    await deliver("marked stretches", { bitDepth: "24" });
    await requestMaster(project, "m1", "whole");
    await work();
    const [file] = await current();
    const whole = (await mastersOf(project)).find(({ item_id }) => item_id === PROGRAMME_ID)!;
    const plain = slicePlanar(await soundOf(whole), 0.5 * RATE, 3.5 * RATE);
    const faded = await soundOf(file!.master);
    const [rise, fall] = [0.25 * RATE, 2 * RATE];
    expect(sameBits(slicePlanar(faded, rise, fall), slicePlanar(plain, rise, fall))).toBe(true);
    const lsb = 2 ** -23;
    const quarter = (t: number) => Math.sin((t * Math.PI) / 2);
    for (const [at, gain] of [
      [0, quarter(0.5 / rise)],
      [Math.floor(rise / 2), quarter((Math.floor(rise / 2) + 0.5) / rise)],
      [2.5 * RATE, quarter((0.5 * RATE - 0.5) / RATE)],
      [3 * RATE - 1, quarter(0.5 / RATE)],
    ] as const)
      expect(Math.abs(faded[0]![at]! - plain[0]![at]! * gain)).toBeLessThan(2.5 * lsb);
  });

  it("has the samples of its parts: items, lanes that yield, the programme's chain", async () => {
    await add("bed", "Reed organ", [noise(4, RATE, -12, 31), noise(4, RATE, -12, 32)]);
    await make({
      type: "addLane",
      lane: laneSchema.parse({ id: "lane", name: "Bed", gainDb: -6, ducker: newDucker([ORDER]) }),
    });
    await place("bed", { lane: "lane", anchor: "i2", atSeconds: -1.5 });
    await make({ type: "addSpec", spec: { ...plainSpec(), id: "as-it-is" } });
    await deliver("one file", { bitDepth: "32f" }, "as-it-is");
    const { id } = await requestMaster(project, PROGRAMME_ID, "whole");
    await work();
    const [left] = await soundOf(await masterOf(id));
    const [first, bed] = [noise(2, RATE, -20, 1), noise(4, RATE, -12, 31)];
    const gain = 10 ** (-1 / 20);
    expect(left![RATE]).toBeCloseTo(first[RATE]! * gain, 6);
    // In the pause the bed has come up: −6 dB, and the programme's −1 dB.
    const pause = 2.9 * RATE; // beyond hold, within release
    const ratio = left![Math.round(pause)]! / (bed[Math.round(pause - 2 * RATE)]! * gain * 10 ** (-6 / 20));
    // 0.9 s after the voice: 0.4 s into a release of 1 s along an S from −12 dB.
    const depth = (1 - Math.cos(Math.PI * 0.6)) / 2;
    expect(20 * Math.log10(ratio)).toBeCloseTo(-12 * depth, 0);
  });

  it("of items of several rates and layouts is of the first one's", async () => {
    await add("mono", "Talk", [noise(1, 48_000, -20, 5)], 48_000);
    await deliver("one file");
    const { id } = await requestMaster(project, PROGRAMME_ID, "whole");
    await work();
    const block = await soundOf(await masterOf(id));
    expect(block).toHaveLength(2);
    expect(block[0]).toHaveLength(8 * RATE);
  });

  it("that holds what does not fit is refused with the reason", async () => {
    await add(
      "surround",
      "Wide",
      Array.from({ length: 6 }, (_, c) => noise(1, RATE, -20, c)),
    );
    await add(
      "odd",
      "Quad",
      Array.from({ length: 4 }, (_, c) => noise(1, RATE, -20, c)),
    );
    await deliver("one file");
    const { id } = await requestMaster(project, PROGRAMME_ID, "whole");
    await work();
    expect(await masterOf(id)).toMatchObject({ state: "done" });
    await add(
      "wider",
      "Other",
      Array.from({ length: 8 }, (_, c) => noise(1, RATE, -20, c)),
    );
    const next = await requestMaster(project, PROGRAMME_ID, "whole");
    await work();
    expect(await masterOf(next.id)).toMatchObject({
      state: "failed",
      problem: expect.stringMatching(/cannot stand in this programme/),
    });
  });
});

describe("files of a programme in the queue", () => {
  it("fail and are cancelled with the whole", async () => {
    await deliver("both");
    const cut = await requestMaster(project, "i1", "whole");
    const whole = (await mastersOf(project)).find(({ item_id }) => item_id === PROGRAMME_ID)!;
    await cancelMaster(whole.id);
    expect((await masterOf(cut.id)).state).toBe("cancelled");
    const again = await requestMaster(project, "i1", "whole");
    await transaction((client) => renderFailed(whole.id, "no room", client));
    expect(await masterOf(again.id)).toMatchObject({ state: "failed", problem: "no room" });
  });
  it("are never taken by themselves, and let go where the whole is not under way", async () => {
    await deliver("both");
    const cut = await requestMaster(project, "i1", "whole");
    const whole = (await mastersOf(project)).find(({ item_id }) => item_id === PROGRAMME_ID)!;
    expect(await rows("select subject from job where queue = 'render'")).toEqual([{ subject: whole.id }]);
    await rows("update master set state = 'done' where id = $1", [whole.id]);
    await rows("update master set requested_at = now() - interval '1 minute' where id = $1", [cut.id]);
    await reconcile();
    expect((await masterOf(cut.id)).state).toBe("cancelled");
  });
});

describe("an item by itself", () => {
  it("comes and goes as it does in the programme", async () => {
    await make({ type: "addSpec", spec: { ...plainSpec(), id: "as-it-is" } });
    const deliverable = { id: "titles", spec: "as-it-is", format: newFormat({ bitDepth: "32f" }) };
    await make({ type: "addDeliverable", deliverable });
    const { id } = await requestMaster(project, "i2", "titles");
    await work();
    const [left] = await soundOf(await masterOf(id));
    const x = noise(2, RATE, -17, 2);
    const gain = 10 ** (-1 / 20);
    expect(left![RATE]).toBeCloseTo(x[RATE]! * gain, 6);
    expect(left![RATE / 4]).toBeCloseTo(x[RATE / 4]! * gain * Math.sin(Math.PI / 4), 4);
  });
});

/** Nothing is changed on the way out. */
function plainSpec() {
  return {
    name: "As it is",
    help: "no change",
    source: "",
    edition: "",
    target: null,
    normalise: "none" as const,
    ceilingDbtp: 0,
    limits: [],
    ...SPEC_DEFAULTS,
  };
}
