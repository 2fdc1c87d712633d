/** `resonum push`: recordings into a project of a studio. */
import { randomUUID } from "node:crypto";
import { stat } from "node:fs/promises";
import { basename } from "node:path";
import type { ApiClient } from "@core/api/client";
import { TEMPLATES } from "@core/project/templates";
import type { Source } from "@core/project/views";
import { hashFile } from "@server/storage/byte-files";
import { filesIn } from "../files";
import { CliProblem, ERROR, print, printJson } from "../outcome";
import { projectOf, projectsNamed, remoteProblem, showWait, studioOf, until, type RemoteOptions } from "./studio";
import { uploadFile } from "./upload";

export interface PushOptions extends RemoteOptions {
  template?: string;
}

/** What became of one file. */
export interface Pushed {
  file: string;
  hash: string;
  state: "taken in" | "there already" | "failed";
  problem: string | null;
}

/** The project that is meant; made by the template where there is none. */
async function projectFor(client: ApiClient, options: PushOptions): Promise<string> {
  const { project, template } = options;
  if (template === undefined || !project || (await projectsNamed(client, project)).length > 0)
    return projectOf(client, options);
  const known = TEMPLATES.find(({ id }) => id === template);
  if (!known)
    throw new CliProblem(`There is no template “${template}”: ${TEMPLATES.map(({ id }) => id).join(", ")} are known.`);
  return (
    await client.call(
      "POST /api/projects",
      { body: { name: project, template: known.id } },
      { idempotencyKey: randomUUID() },
    )
  ).id;
}

const isRead = ({ state }: Source): boolean => state === "ready" || state === "failed";

/** Sends one recording, unless the project has it, and waits until it is read and measured. */
export async function pushOne(client: ApiClient, file: string, project: string, options: PushOptions): Promise<Pushed> {
  const about = await stat(file).catch(() => undefined);
  if (!about?.isFile()) throw new CliProblem(`${file} is not there, or is no file.`);
  const { hash } = await hashFile(file);
  const found = async () =>
    (await client.call("GET /api/projects/{project}", { params: { project } })).sources.find(
      (source) => source.hash === hash,
    );
  const before = await found();
  if (before) return { file, hash, state: "there already", problem: before.problem };
  await uploadFile({ file, hash, project }, options);
  showWait(`${basename(file)} is read and measured …`, options);
  const source = await until(async () => {
    const source = await found();
    return source && isRead(source) ? source : undefined;
  });
  showWait("", options);
  return { file, hash, state: source.state === "ready" ? "taken in" : "failed", problem: source.problem };
}

export async function pushFiles(paths: string[], options: PushOptions): Promise<void> {
  const client = studioOf(options);
  try {
    const project = await projectFor(client, options);
    const pushed: Pushed[] = [];
    for (const file of await filesIn(paths)) {
      const outcome = await pushOne(client, file, project, options);
      pushed.push(outcome);
      if (!options.json) print(`${outcome.state.padEnd(15)}${file}${outcome.problem ? `: ${outcome.problem}` : ""}`);
    }
    if (options.json) printJson({ project, files: pushed });
    if (pushed.some(({ state }) => state === "failed")) process.exitCode = ERROR;
  } catch (error) {
    throw remoteProblem(error, options.server!);
  }
}
