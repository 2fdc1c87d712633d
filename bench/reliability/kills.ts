/**
 * Kills at random moments, of every part of a studio at work: afterwards, every edit, upload, master and hand-over that
 * was answered is there, once, byte for byte, and nothing is left of what was interrupted.
 */
import { existsSync, readdirSync } from "node:fs";
import { join } from "node:path";
import { Random } from "@core/math/random";
import { newChainEntry } from "@core/processors";
import type { HistoryState } from "@core/project/views";
import { downloaded, edit, json, newProject, Refused, upload, viewOf } from "./client";
import { DATA, kill, pause, pidsOf, Studio, type Part } from "./studio";
import { wavOf } from "./wav";

/** How often each part is killed: workers and the web server most. */
const PARTS: readonly Part[] = ["worker", "worker", "worker", "web", "web", "database", "supervisor"];
const PAUSE_MS = { least: 150, most: 900 };
const SETTLE_MS = 180_000;

/** What was answered, to be found again at the end. */
interface Answered {
  edits: { project: string; head: number; gainDb: number }[];
  uploads: { project: string; name: string; hash: string }[];
  masters: number;
  submissions: number;
}

export interface KillReport {
  kills: Record<Part, number>;
  /** Milliseconds until the web server answered well again after it was killed. */
  recoveries: number[];
  answered: { edits: number; uploads: number; masters: number; submissions: number };
  faults: string[];
}

export async function killTest(count: number, tell: (words: string) => void): Promise<KillReport> {
  const studio = new Studio();
  await studio.start(true);
  const random = new Random(count);
  const answered: Answered = { edits: [], uploads: [], masters: 0, submissions: 0 };
  const faults: string[] = [];
  let working = true;
  const loops = [
    ...[1, 2].map((n) => editing(`Edits ${n}`, answered, () => working)),
    ...[1, 2].map((n) => uploading(`Uploads ${n}`, n, answered, () => working)),
    rendering("Masters", answered, () => working),
  ].map((loop) => loop.catch((error: Error) => void faults.push(`A loop ended: ${error.message}`)));

  const kills: Record<Part, number> = { worker: 0, web: 0, database: 0, supervisor: 0 };
  const recoveries: number[] = [];
  for (let done = 0; done < count;) {
    await pause(random.between(PAUSE_MS.least, PAUSE_MS.most));
    const part = PARTS[Math.floor(random.next() * PARTS.length)]!;
    if (!kill(part, () => random.next())) continue;
    kills[part]++;
    done++;
    if (part === "supervisor") {
      await untilGone();
      await studio.start(false);
    } else if (part === "web") recoveries.push(await studio.answering());
    if (done % 50 === 0)
      tell(
        `${done} kills; ${answered.edits.length} edits, ${answered.uploads.length} uploads, ${answered.masters} masters, ${answered.submissions} hand-overs`,
      );
  }
  working = false;
  await studio.answering();
  await Promise.all(loops);
  await settled(faults);
  await verify(answered, faults);
  await studio.stop();
  const { edits, uploads, masters, submissions } = answered;
  return {
    kills,
    recoveries,
    answered: { edits: edits.length, uploads: uploads.length, masters, submissions },
    faults,
  };
}

/** Everything ends with its supervisor. */
async function untilGone(): Promise<void> {
  for (let waited = 0; (["web", "worker"] as const).some((part) => pidsOf(part).length > 0); waited += 50) {
    if (waited > 10_000) throw new Error("Halves of the studio live on without their supervisor.");
    await pause(50);
  }
}

/** One setting, again and again, each time another. */
async function editing(name: string, { edits }: Answered, goesOn: () => boolean): Promise<void> {
  const project = await newProject(name);
  const hash = await upload(project, `${name}.wav`, await wavOf(name.length + name.charCodeAt(6)), 1);
  const item = await itemOf(project, hash);
  await edit(project, { type: "addProcessor", item, entry: newChainEntry("gain", "p1") });
  for (let n = 1; goesOn(); n++) {
    const gainDb = -(n % 240) / 10;
    const head = await edit(project, { type: "setParameter", item, entry: "p1", parameter: "gainDb", setting: gainDb });
    edits.push({ project, head, gainDb });
    await pause(30);
  }
}

async function itemOf(project: string, hash: string): Promise<string> {
  for (;;) {
    const item = (await viewOf(project)).document.items.find(({ source }) => source === hash);
    if (item) return item.id;
    await pause(200);
  }
}

async function uploading(name: string, seed: number, { uploads }: Answered, goesOn: () => boolean): Promise<void> {
  const project = await newProject(name);
  for (let n = 0; goesOn(); n++) {
    const file = `${name} ${String(n).padStart(4, "0")}.wav`;
    uploads.push({ project, name: file, hash: await upload(project, file, await wavOf(seed * 10_000 + n), 3) });
    await pause(250);
  }
}

/** Masters of two items, of other settings each time, handed over now and then. */
async function rendering(name: string, answered: Answered, goesOn: () => boolean): Promise<void> {
  const project = await newProject(name);
  const hashes = [
    await upload(project, "One.wav", await wavOf(5), 1),
    await upload(project, "Two.wav", await wavOf(6), 1),
  ];
  const items = [];
  for (const hash of hashes) items.push(await itemOf(project, hash));
  const deliverable = (await viewOf(project)).document.deliverables[0]!.id;
  for (let n = 1; goesOn(); n++) {
    const item = items[n % 2]!;
    const entry = { ...newChainEntry("gain", `g${n}`), gainDb: -(n % 40) / 10 };
    await edit(project, { type: "setChain", items: [item], chain: [entry], prefix: `c${n}` });
    const wanted = { masters: [{ item, deliverable }] };
    const [asked] = await json<{ id: string }[]>(`projects/${project}/masters`, wanted).catch((error: unknown) => {
      // Its recording is still being read.
      if (error instanceof Refused && error.status === 422) return [];
      throw error;
    });
    if (!asked) {
      await pause(300);
      continue;
    }
    for (let waited = 0; goesOn() && waited < 30_000; waited += 200) {
      const master = (await viewOf(project)).masters.find(({ id }) => id === asked.id);
      if (master?.state === "done") {
        answered.masters++;
        break;
      }
      await pause(200);
    }
    if (n % 6 === 0) {
      const sent = await json(`projects/${project}/submissions`, { receiver: "folder", deliverable }).catch(
        () => undefined,
      );
      if (sent) answered.submissions++;
    }
  }
}

/** Until nothing is under way any more. */
async function settled(faults: string[]): Promise<void> {
  for (let waited = 0; waited < SETTLE_MS; waited += 500) {
    const projects = await json<{ id: string }[]>("projects");
    const views = await Promise.all(projects.map(({ id }) => viewOf(id)));
    const busy = views.some(
      ({ jobs, uploads, sources, submissions }) =>
        jobs.length + uploads.length > 0 ||
        sources.some(({ state }) => state === "waiting" || state === "preparing") ||
        submissions.some(({ state }) => state === "waiting"),
    );
    if (!busy) return;
    await pause(500);
  }
  faults.push(`Something is still under way ${SETTLE_MS / 1000} s after the last kill.`);
}

async function verify({ edits, uploads }: Answered, faults: string[]): Promise<void> {
  const fault = (words: string) => void (faults.length < 50 && faults.push(words));
  for (const project of new Set(edits.map((one) => one.project))) {
    const mine = edits.filter((one) => one.project === project);
    const view = await viewOf(project);
    const last = mine.at(-1)!;
    const gainDb = view.document.items[0]!.chain[0]!.gainDb;
    if (view.head !== last.head || gainDb !== last.gainDb)
      fault(`The last edit is lost: ${String(gainDb)} for ${String(last.gainDb)}.`);
    // New project, its recording, its processor: the rest are these edits, each once.
    const states = new Set<number>();
    for (let before: number | null = null; ;) {
      const page: HistoryState[] = await json(
        `projects/${project}/history${before === null ? "" : `?before=${before}`}`,
      );
      for (const { id } of page) states.add(id);
      if (page.length === 0 || page.at(-1)!.parent === null) break;
      before = page.at(-1)!.id;
    }
    const lost = mine.filter(({ head }) => !states.has(head)).length;
    if (lost > 0) fault(`${lost} edits that were answered are lost.`);
    if (states.size !== mine.length + 3) fault(`${states.size - 3} edits are there, ${mine.length} were answered.`);
    if (view.states !== states.size) fault(`${view.states} states are counted, ${states.size} are there.`);
  }
  for (const project of new Set(uploads.map((one) => one.project))) {
    const mine = uploads.filter((one) => one.project === project);
    const { document, sources, uploads: waiting } = await viewOf(project);
    if (waiting.length > 0) fault(`${waiting.length} uploads are left over.`);
    for (const { name, hash } of mine) {
      const items = document.items.filter(({ source }) => source === hash).length;
      if (items !== 1) fault(`“${name}” is there ${items} times.`);
    }
    if (document.items.length !== mine.length) fault(`${document.items.length} items, ${mine.length} uploads.`);
    for (const { hash, name, state } of sources) {
      if (state !== "ready") fault(`“${name}” is ${state}.`);
      if ((await downloaded(`sources/${hash}`)) !== hash) fault(`“${name}” is not byte for byte what was sent.`);
    }
  }
  for (const { id } of await json<{ id: string }[]>("projects")) {
    const { masters, submissions } = await viewOf(id);
    for (const master of masters) {
      if (master.state === "failed") fault(`A master failed: ${master.problem}`);
      if (master.state === "waiting" || master.state === "rendering") fault(`A master is ${master.state} for ever.`);
      if (master.state === "done" && (await downloaded(`masters/${master.id}/file`)) !== master.file_hash)
        fault("A master is not the file that was verified.");
    }
    for (const { state, problem } of submissions)
      if (state !== "accepted") fault(`A hand-over is ${state}: ${problem}`);
  }
  const handed = join(DATA, "handed over");
  if (!existsSync(handed)) return;
  const left = readdirSync(handed, { recursive: true }).filter((name) => String(name).includes(".making-"));
  if (left.length > 0) fault(`Half-made hand-overs are left: ${left.join(", ")}`);
}
