/** A studio on another machine, asked by its API. */
import { ApiClient, ApiProblem, type ClientOptions } from "@core/api/client";
import type { ProjectSummary } from "@core/project/views";
import { CliProblem } from "../outcome";

export interface RemoteOptions {
  server?: string;
  /** API token; RESONUM_TOKEN unless said. */
  token?: string;
  project?: string;
  json?: boolean;
}

/** A server that is started again is back within these. */
const RETRIES = 5;

const LOOPBACK = /^(127\.\d+\.\d+\.\d+|localhost|\[::1\])$/;
const UUID = /^[\da-f]{8}(-[\da-f]{4}){3}-[\da-f]{12}$/i;

/** Address and token of the studio that is meant. @throws CliProblem where they cannot be used */
export function serverOf({
  server = "",
  token,
}: RemoteOptions): Required<Pick<ClientOptions, "server">> & ClientOptions {
  const url = URL.parse(server);
  if (!url || !/^https?:$/.test(url.protocol))
    throw new CliProblem(
      `--server asks for the address of a studio, such as https://studio.example; “${server}” is none.`,
    );
  if (url.protocol === "http:" && !LOOPBACK.test(url.hostname))
    throw new CliProblem(`${server} is not encrypted: the token could be read on the way. Use https.`);
  const secret = token ?? process.env.RESONUM_TOKEN;
  return { server: url.origin, ...(secret ? { token: secret } : {}) };
}

/** @throws CliProblem */
export const studioOf = (options: RemoteOptions): ApiClient =>
  new ApiClient({ ...serverOf(options), retries: RETRIES });

/** Every project that may be seen, page by page. */
async function* projectsOf(client: ApiClient): AsyncGenerator<ProjectSummary> {
  let after: string | undefined;
  do {
    const page: ProjectSummary[] = await client.call("GET /api/projects", { query: { limit: 200, after } });
    yield* page;
    after = page.length < 200 ? undefined : page.at(-1)!.id;
  } while (after);
}

/** Ids of projects of that name, or the one of that id; what lies in archive or bin is left out. */
export async function projectsNamed(client: ApiClient, wanted: string): Promise<string[]> {
  if (UUID.test(wanted)) return [wanted];
  const found: string[] = [];
  for await (const { id, name, shelf } of projectsOf(client)) if (name === wanted && shelf === null) found.push(id);
  return found;
}

/** @throws CliProblem where there is none, or where several have the name */
export async function projectOf(client: ApiClient, { project }: RemoteOptions): Promise<string> {
  if (!project) throw new CliProblem("Say which project: --project takes its name or its id.");
  const [found, another] = await projectsNamed(client, project);
  if (!found) throw new CliProblem(`There is no project “${project}” that this token sees.`);
  if (another)
    throw new CliProblem(`Several projects are called “${project}”: give its id, which its address ends with.`);
  return found;
}

/** What went wrong with a studio, for whoever sits at this machine. */
export const remoteProblem = (error: unknown, server: string): unknown =>
  error instanceof ApiProblem && error.status === 0 ? new CliProblem(`${server} does not answer.`) : error;

const POLL_MS = 1000;

/** Asks again and again until there is an answer. */
export async function until<Answer>(ask: () => Promise<Answer | undefined>): Promise<Answer> {
  for (;;) {
    const answer = await ask();
    if (answer !== undefined) return answer;
    await new Promise((resume) => setTimeout(resume, POLL_MS));
  }
}

/** How far a wait is, on one line of the terminal; empty words take it away. Nothing where nobody looks. */
export function showWait(words: string, { json }: RemoteOptions): void {
  if (!json && process.stderr.isTTY) process.stderr.write(`\r\x1b[K${words}`);
}
