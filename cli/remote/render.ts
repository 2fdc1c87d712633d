/** `resonum render --server`: what of a project is not rendered as it is now, and waits for it. */
import { randomUUID } from "node:crypto";
import type { ApiClient } from "@core/api/client";
import type { WantedMaster } from "@core/project/views";
import { formatDb } from "@core/audio/format";
import { CliProblem, ERROR, FAILS_SPEC, print, printJson } from "../outcome";
import { fetchMasters } from "./fetch";
import { projectOf, remoteProblem, showWait, studioOf, until, type RemoteOptions } from "./studio";

export interface RemoteRenderOptions extends RemoteOptions {
  out?: string;
}

const isUnderWay = ({ master }: WantedMaster): boolean => master?.state === "waiting" || master?.state === "rendering";
const isDone = ({ current, master }: WantedMaster): boolean => current && master?.state === "done";

/** Asks for what is missing, and waits until nothing of it is under way. */
export async function renderProjectThere(
  client: ApiClient,
  project: string,
  options: RemoteOptions,
): Promise<WantedMaster[]> {
  const wanted = await client.call("GET /api/projects/{project}/masters", { params: { project } });
  const missing = wanted.filter((one) => one.ready && !isDone(one) && !(one.current && isUnderWay(one)));
  if (missing.length > 0) {
    const masters = missing.map((one) => ({ item: one.item_id, deliverable: one.deliverable_id }));
    const request = { params: { project }, body: { masters } };
    await client.call("POST /api/projects/{project}/masters", request, { idempotencyKey: randomUUID() });
  }
  return until(async () => {
    const masters = await client.call("GET /api/projects/{project}/masters", { params: { project } });
    const left = masters.filter((one) => one.current && isUnderWay(one)).length;
    showWait(left > 0 ? `${masters.length - left} of ${masters.length} masters are done …` : "", options);
    return left > 0 ? undefined : masters;
  });
}

/** What became of one master. */
function outcomeOf({ item, deliverable, file_name, ready, current, master }: WantedMaster) {
  const result = current ? master?.result : null;
  const state = !ready ? "not ready" : current ? (master?.state ?? "missing") : "missing";
  return {
    ...{ item, deliverable, file: file_name, state, sha256: current ? (master?.file_hash ?? null) : null },
    pass: result?.verdict?.pass ?? null,
    integratedLufs: result?.figures.integratedLufs ?? null,
    truePeakDbtp: result?.figures.truePeakDbtp ?? null,
    problem: (current && master?.problem) || null,
  };
}
type Outcome = ReturnType<typeof outcomeOf>;

function tell({ file, state, pass, integratedLufs, truePeakDbtp, problem }: Outcome): void {
  const standing = state === "done" ? (pass === null ? "done" : pass ? "pass" : "fail") : state;
  const level = (value: number | null, unit: string) => (value === null ? "" : `${formatDb(value)} ${unit}`);
  const figures = [level(integratedLufs, "LUFS"), level(truePeakDbtp, "dBTP")].filter(Boolean).join("  ");
  print(`${standing.padEnd(10)}${figures.padEnd(28)}${file}${problem ? `: ${problem}` : ""}`);
}

/** Exit code: a file that is missing weighs more than one outside its specification. */
export function codeOf(outcomes: readonly Outcome[]): number {
  if (outcomes.some(({ state }) => state !== "done")) return ERROR;
  return outcomes.some(({ pass }) => pass === false) ? FAILS_SPEC : 0;
}

export async function renderThere(options: RemoteRenderOptions): Promise<void> {
  const client = studioOf(options);
  try {
    const project = await projectOf(client, options);
    const outcomes = (await renderProjectThere(client, project, options)).map(outcomeOf);
    if (outcomes.length === 0) throw new CliProblem("The project has nothing to deliver: no item, or no deliverable.");
    const fetched = options.out === undefined ? [] : await fetchMasters(client, project, options.out);
    if (options.json) printJson({ project, masters: outcomes, fetched });
    else outcomes.forEach(tell);
    process.exitCode = codeOf(outcomes);
  } catch (error) {
    throw remoteProblem(error, options.server!);
  }
}
