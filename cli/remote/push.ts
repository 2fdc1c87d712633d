/** `resonum push`: recordings into a project of a studio. */
import { randomUUID } from "node:crypto";
import { createReadStream } from "node:fs";
import { stat } from "node:fs/promises";
import { basename } from "node:path";
import { Upload } from "tus-js-client";
import type { ApiClient } from "@core/api/client";
import { TEMPLATES } from "@core/project/templates";
import type { Source } from "@core/project/views";
import { hashFile } from "@server/storage/byte-files";
import { filesIn } from "../files";
import { CliProblem, ERROR, print, printJson } from "../outcome";
import {
  projectOf,
  projectsNamed,
  remoteProblem,
  serverOf,
  showWait,
  studioOf,
  until,
  type RemoteOptions,
} from "./studio";

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

const CHUNK_BYTES = 32 * 2 ** 20;
const RETRY_DELAYS_MS = [500, 1000, 3000, 5000, 10_000, 20_000, 30_000, 60_000];

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

/** Sends a file; what is interrupted goes on where it was. */
async function upload(file: string, project: string, options: PushOptions): Promise<void> {
  const { server, token } = serverOf(options);
  await new Promise<void>((resolve, reject) =>
    new Upload(createReadStream(file), {
      endpoint: `${server}/api/uploads`,
      chunkSize: CHUNK_BYTES,
      retryDelays: RETRY_DELAYS_MS,
      metadata: { filename: basename(file), project },
      headers: token ? { Authorization: `Bearer ${token}` } : {},
      onProgress: (sent, bytes) =>
        showWait(`sending ${basename(file)} ${bytes ? Math.round((100 * sent) / bytes) : 0} %`, options),
      onSuccess: () => resolve(),
      onError: (error) => {
        const said = "originalResponse" in error ? error.originalResponse?.getBody()?.trim() : undefined;
        reject(new CliProblem(said || `${file} could not be sent: ${error.message.split("\n")[0]}`));
      },
    }).start(),
  );
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
  await upload(file, project, options);
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
