/** Recordings and masters of all projects, found by words and by figures. */
import { beforeAll, describe, expect, it } from "vitest";
import { parseMediaQuery } from "@core/project/media-query";
import { noise } from "@core/testing/signals";
import { addRecording } from "../../tests/integration/recording";
import { migrate, row, rows } from "../db/database";
import { MOST_FOUND, searchMedia } from "./media-search";
import { createProject, edit, openProject } from "./projects";

const found = (typed: string) => searchMedia(parseMediaQuery(typed));
const names = async (typed: string) => (await found(typed)).recordings.map(({ name }) => name).sort();
const titles = async (typed: string) => (await found(typed)).masters.map(({ title }) => title).sort();

let weir: string;
async function addTo(project: string, name: string, level: number, seed: number): Promise<string> {
  const { hash } = await addRecording(name, [noise(2, 48_000, level, seed)], 48_000);
  const { head } = await openProject(project);
  const item = { id: `i${seed}`, name, source: hash, repairs: [], chain: [], markers: [] };
  await edit(project, { base: head, command: { type: "addSource", source: { hash, name }, item }, author: "test" });
  return hash;
}

interface MadeMaster {
  title: string;
  item?: string;
  spec?: string;
  pass?: boolean | null;
  integratedLufs?: number;
  state?: string;
  minutesAgo?: number;
}
let made = 0;
async function addMaster({
  title,
  item,
  spec = "Streaming",
  pass = true,
  integratedLufs = -14,
  state = "done",
  minutesAgo = 0,
}: MadeMaster) {
  const inputs = { tags: { title }, recipe: { spec: { name: spec }, format: { container: "wav" } } };
  const result =
    state === "done"
      ? { figures: { integratedLufs, truePeakDbtp: -1.5 }, verdict: pass === null ? null : { pass } }
      : null;
  await rows(
    `insert into master (project_id, item_id, deliverable_id, key, inputs, state, result, requested_at)
     values ($1, $2, 'd', $3, $4, $5, $6, now() - make_interval(mins => $7))`,
    [weir, item ?? `m${++made}`, `key ${++made}`, JSON.stringify(inputs), state, JSON.stringify(result), minutesAgo],
  );
}

beforeAll(async () => {
  await migrate();
  weir = (await createProject("Weir", "music", "test")).id;
  await addTo(weir, "Weir at Night_1.wav", -20, 1);
  await addTo(weir, "Ferry 100%.wav", -40, 2);
  await addMaster({ title: "Weir at Night", integratedLufs: -14.02 });
  await addMaster({ title: "Weir, quiet", pass: false, integratedLufs: -31, spec: "Audiobook" });
  await addMaster({ title: "Weir, under way", state: "rendering" });
  await addMaster({ title: "Weir, no spec", pass: null });
  await addMaster({ title: "Ferry, before", item: "ferry", pass: false, minutesAgo: 30 });
  await addMaster({ title: "Ferry, after", item: "ferry" });
});

describe("recordings", () => {
  it("are found by all words of their name, whatever those mean to a database", async () => {
    expect(await names("weir")).toEqual(["Weir at Night_1.wav"]);
    expect(await names("NIGHT weir")).toEqual(["Weir at Night_1.wav"]);
    expect(await names("weir ferry")).toEqual([]);
    expect(await names("100%")).toEqual(["Ferry 100%.wav"]);
    expect(await names("%")).toEqual(["Ferry 100%.wav"]);
    expect(await names("t_1")).toEqual(["Weir at Night_1.wav"]);
    expect(await names("'; drop table source; --")).toEqual([]);
  });

  it("are found by figures, with the projects that they are in", async () => {
    expect(await names("loudness under -30")).toEqual(["Ferry 100%.wav"]);
    expect(await names("loudness over -30")).toEqual(["Weir at Night_1.wav"]);
    expect(await names("loudness over -30 wav true peak over 3")).toEqual([]);
    const { recordings } = await found("weir");
    expect(recordings[0]).toMatchObject({ projects: [weir], state: "ready", figures: { channels: 1 } });
  });

  it("of which nothing is asked are not told, nor where a verdict is asked for", async () => {
    expect(await found(" ")).toEqual({ recordings: [], masters: [], moreRecordings: false, moreMasters: false });
    expect(await names("weir no verdict")).toEqual([]);
  });
});

describe("masters", () => {
  it("are found by title, specification and kind of file", async () => {
    expect(await titles("quiet")).toEqual(["Weir, quiet"]);
    expect(await titles("audiobook")).toEqual(["Weir, quiet"]);
    expect(await titles("wav night")).toEqual(["Weir at Night"]);
  });

  it("are the latest of each item and deliverable", async () => {
    expect(await titles("ferry")).toEqual(["Ferry, after"]);
    expect(await titles("ferry outside")).toEqual([]);
  });

  it("are told inside, outside, and without a verdict apart", async () => {
    expect(await titles("inside")).toEqual(["Ferry, after", "Weir at Night"]);
    expect(await titles("outside")).toEqual(["Weir, quiet"]);
    expect(await titles("no verdict")).toEqual(["Weir, no spec", "Weir, under way"]);
    expect(await titles("inside loudness under -14.01")).toEqual(["Weir at Night"]);
    const { masters } = await found("under way");
    expect(masters[0]).toMatchObject({ project_id: weir, state: "rendering", pass: null, figures: null });
  });

  it("beyond a hundred are told as more", async () => {
    for (let count = 0; count <= MOST_FOUND; count++) await addMaster({ title: `Many ${count}`, minutesAgo: 60 });
    const { masters, moreMasters } = await found("many");
    expect([masters.length, moreMasters]).toEqual([MOST_FOUND, true]);
    expect((await found("weir")).moreMasters).toBe(false);
    expect(await row("select count(*)::int as n from master where inputs->'tags'->>'title' like 'Many%'")).toEqual({
      n: MOST_FOUND + 1,
    });
  });
});
