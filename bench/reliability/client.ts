/** What a page does, without a page: every request is sent until it is answered. */
import { createHash, randomUUID } from "node:crypto";
import type { ProjectView } from "@core/project/views";
import { ADDRESS, pause } from "./studio";

/** Answers after which a page tries again. */
const TRIED_AGAIN = [408, 429, 500, 502, 503, 504, 507];
const AGAIN_MS = 150;

export class Refused extends Error {
  constructor(
    readonly status: number,
    detail: string,
  ) {
    super(detail);
  }
}

/** Sends until there is an answer. @throws Refused where that is a refusal */
async function ask(path: string, init: RequestInit = {}): Promise<Response> {
  for (;;) {
    const signal = AbortSignal.timeout(20_000);
    const answer = await fetch(`${ADDRESS}/api/${path}`, { ...init, signal }).catch(() => undefined);
    if (answer?.ok) return answer;
    if (answer && !TRIED_AGAIN.includes(answer.status)) throw new Refused(answer.status, await answer.text());
    await answer?.body?.cancel();
    await pause(AGAIN_MS);
  }
}

/** A JSON answer, asked for again where it breaks off. */
export async function json<Answer>(
  path: string,
  data?: unknown,
  method = data === undefined ? "GET" : "POST",
): Promise<Answer> {
  for (;;) {
    const answer = await ask(path, { method, ...(data === undefined ? {} : { body: JSON.stringify(data) }) });
    if (answer.status === 204) return undefined as Answer;
    try {
      return (await answer.json()) as Answer;
    } catch {
      await pause(AGAIN_MS);
    }
  }
}

export const viewOf = (project: string): Promise<ProjectView> => json<ProjectView>(`projects/${project}`);

export async function newProject(name: string): Promise<string> {
  return (await json<{ id: string }>("projects", { name, template: "music" })).id;
}

/** Makes an edit, on the head that it knows; a refusal for a moved head is tried on the new one, under a new id. */
export async function edit(project: string, command: object): Promise<number> {
  for (;;) {
    const { head } = await viewOf(project);
    try {
      return (await json<{ head: number }>(`projects/${project}/commands`, { id: randomUUID(), base: head, command }))
        .head;
    } catch (error) {
      if (!(error instanceof Refused && error.status === 409)) throw error;
    }
  }
}

const encoded = (text: string): string => Buffer.from(text).toString("base64");
const TUS = { "Tus-Resumable": "1.0.0" };

/** Uploads a file in pieces, going on where it broke off. @returns its SHA-256 */
export async function upload(project: string, name: string, bytes: Buffer, pieces: number): Promise<string> {
  const key = randomUUID();
  const begun = await ask("uploads", {
    method: "POST",
    headers: {
      ...TUS,
      "Upload-Length": String(bytes.length),
      "Upload-Metadata": `filename ${encoded(name)},project ${encoded(project)},key ${encoded(key)}`,
    },
  });
  const path = new URL(begun.headers.get("location")!, ADDRESS).pathname.replace(/^\/api\//, "");
  const piece = Math.ceil(bytes.length / pieces);
  for (;;) {
    let offset: number;
    try {
      const told = await ask(path, { method: "HEAD", headers: TUS });
      offset = Number(told.headers.get("upload-offset"));
    } catch (error) {
      // Made a recording of, and forgotten as an upload.
      if (error instanceof Refused && [404, 410].includes(error.status)) break;
      throw error;
    }
    if (offset >= bytes.length) break;
    await fetch(`${ADDRESS}/api/${path}`, {
      method: "PATCH",
      headers: { ...TUS, "Upload-Offset": String(offset), "Content-Type": "application/offset+octet-stream" },
      body: new Uint8Array(bytes.subarray(offset, offset + piece)),
      signal: AbortSignal.timeout(20_000),
    }).catch(() => pause(AGAIN_MS));
  }
  return createHash("sha256").update(bytes).digest("hex");
}

/** SHA-256 of what is downloaded; asked for again where it breaks off. */
export async function downloaded(path: string): Promise<string> {
  for (;;) {
    const answer = await ask(path);
    try {
      return createHash("sha256")
        .update(Buffer.from(await answer.arrayBuffer()))
        .digest("hex");
    } catch {
      await pause(AGAIN_MS);
    }
  }
}
