/** Many requests at once to the heaviest routes: each is answered, or told clearly to come again; memory stays small. */
import { readFileSync } from "node:fs";
import { edit, json, newProject, upload, viewOf } from "./client";
import { ADDRESS, pause, pidsOf, Studio } from "./studio";
import { wavOf } from "./wav";

export interface CrowdReport {
  route: string;
  answered: number;
  comeAgain: number;
  other: number;
  seconds: number;
  webMegabytes: number;
}

const peak = (): number =>
  Math.max(
    0,
    ...pidsOf("web").map((pid) =>
      Math.round(Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, "utf8"))?.[1] ?? 0) / 1024),
    ),
  );

/** One body of 400 MB that does not say how long it is. */
async function vastBody(project: string): Promise<CrowdReport> {
  const began = Date.now();
  let sent = 0;
  const body = new ReadableStream<Uint8Array>({
    pull(controller) {
      if ((sent += 1 << 20) > 400 << 20) controller.close();
      else controller.enqueue(new Uint8Array(1 << 20));
    },
  });
  const init = { method: "POST", body, duplex: "half" } as RequestInit;
  const answer = await fetch(`${ADDRESS}/api/projects/${project}/commands`, init).catch(() => undefined);
  // Refused while it arrives: the connection is closed, with or without a word that comes through.
  const refused = answer === undefined || answer.status === 413;
  return {
    ...{ route: `a body of 400 MB (${sent >> 20} MB were sent)`, answered: 0, comeAgain: refused ? 1 : 0 },
    ...{ other: refused ? 0 : 1, seconds: (Date.now() - began) / 1000, webMegabytes: peak() },
  };
}

export async function crowdTest(count: number): Promise<CrowdReport[]> {
  const studio = new Studio();
  await studio.start(true);
  const project = await newProject("Crowd");
  for (let n = 0; n < 6; n++) await upload(project, `Item ${n}.wav`, await wavOf(n), 1);
  while ((await viewOf(project)).sources.some(({ state }) => state !== "ready")) await pause(300);
  const { document } = await viewOf(project);
  for (let n = 0; n < 40; n++) await edit(project, { type: "rename", name: `Crowd ${n}` });
  const masters = document.items.flatMap(({ id: item }) =>
    document.deliverables.map(({ id: deliverable }) => ({ item, deliverable })),
  );
  await json(`projects/${project}/masters`, { masters });
  while ((await viewOf(project)).masters.some(({ state }) => state !== "done")) await pause(500);
  const master = (await viewOf(project)).masters[0]!.id;
  const body = Buffer.from(await wavOf(99));
  const routes: [string, string, RequestInit?][] = [
    ["the library", "projects"],
    ["a project", `projects/${project}`],
    ["a PDF report", `masters/${master}/report?kind=pdf`],
    ["the table of masters", `projects/${project}/papers/Masters.csv`],
    ["everything as zip", `projects/${project}/delivery`],
    ["measuring a file", "measure", { method: "POST", body: new Uint8Array(body) }],
    [
      "a body of 2 MB, twice what is taken,",
      `projects/${project}/commands`,
      { method: "POST", body: new Uint8Array(2 ** 21) },
    ],
  ];
  const reports: CrowdReport[] = [];
  for (const [route, path, init] of routes) {
    const began = Date.now();
    const statuses = await Promise.all(
      Array.from({ length: count }, async () => {
        const answer = await fetch(`${ADDRESS}/api/${path}`, init).catch(() => undefined);
        await answer?.arrayBuffer().catch(() => undefined);
        return answer?.status ?? 0;
      }),
    );
    const of = (wanted: number[]) => statuses.filter((status) => wanted.includes(status)).length;
    const answered = of([200]);
    const comeAgain = of([429, 503, 413]);
    reports.push({
      ...{ route, answered, comeAgain, other: count - answered - comeAgain },
      ...{ seconds: (Date.now() - began) / 1000, webMegabytes: peak() },
    });
  }
  reports.push(await vastBody(project));
  await studio.stop();
  return reports;
}
