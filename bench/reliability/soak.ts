/** A day's work in fast motion: does memory, do files, do rows grow without a reason? */
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { newChainEntry } from "@core/processors";
import { edit, json, newProject, upload, viewOf } from "./client";
import { ADDRESS, connected, DATA, pause, pidsOf, Studio } from "./studio";
import { wavOf } from "./wav";

export interface Measured {
  hour: number;
  edits: number;
  webMegabytes: number;
  workerMegabytes: number;
  temporaryFiles: number;
  uploadFiles: number;
  jobs: number;
  connections: number;
  blobs: number;
  unreferenced: number;
}

const residentMegabytes = (pid: number): number => {
  try {
    return Math.round(Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, "utf8"))?.[1] ?? 0) / 1024);
  } catch {
    return 0;
  }
};
const filesIn = (...path: string[]): number => {
  try {
    return readdirSync(join(DATA, ...path)).length;
  } catch {
    return 0;
  }
};

/** @param seconds that the day takes; an hour of it is a twenty-fourth */
export async function soakTest(seconds: number, tell: (words: string) => void): Promise<Measured[]> {
  const studio = new Studio();
  await studio.start(true);
  const database = await connected();
  const one = async (sql: string) => Number((await database.query<{ n: string }>(sql)).rows[0]!.n);

  const project = await newProject("A day");
  const hashes = [
    await upload(project, "One.wav", await wavOf(1), 1),
    await upload(project, "Two.wav", await wavOf(2), 1),
  ];
  let items: string[] = [];
  while (items.length < 2) items = (await viewOf(project)).document.items.map(({ id }) => id);
  while ((await viewOf(project)).sources.some(({ state }) => state !== "ready")) await pause(200);
  const deliverable = (await viewOf(project)).document.deliverables[0]!.id;
  const measured: Measured[] = [];
  let edits = 0;
  const began = Date.now();
  for (let hour = 1; hour <= 24; hour++) {
    for (let n = 0; Date.now() - began < (hour * seconds * 1000) / 24; n++) {
      const item = items[n % 2]!;
      const entry = { ...newChainEntry("gain", "g"), gainDb: -(edits % 200) / 10 };
      await edit(project, { type: "setChain", items: [item], chain: [entry], prefix: `c${edits}` });
      edits++;
      if (n % 20 === 0) {
        await json(`projects/${project}/masters`, { masters: [{ item, deliverable }] });
        const { head } = await viewOf(project);
        await json(`projects/${project}/head`, { base: head, to: "undo" }).catch(() => undefined);
        await fetch(`${ADDRESS}/api/sources/${hashes[0]}`).then((answer) => answer.arrayBuffer());
      }
    }
    measured.push({
      hour,
      edits,
      webMegabytes: Math.max(0, ...pidsOf("web").map(residentMegabytes)),
      workerMegabytes: Math.max(0, ...pidsOf("worker").map(residentMegabytes)),
      temporaryFiles: filesIn("blobs", "temporary"),
      uploadFiles: filesIn("uploads"),
      jobs: await one("select count(*) as n from job"),
      connections: await one("select count(*) as n from pg_stat_activity where datname = 'resonum'"),
      blobs: await one("select count(*) as n from blob"),
      unreferenced: await one("select count(*) as n from blob where reference_count <= 0"),
    });
    tell(JSON.stringify(measured.at(-1)));
  }
  await database.end();
  await studio.stop();
  return measured;
}
