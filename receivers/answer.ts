/** What the simulated receivers share: a small HTTP server on loopback that takes files and answers in JSON. */
import { createHash, randomUUID } from "node:crypto";
import { createWriteStream } from "node:fs";
import { mkdir, rm } from "node:fs/promises";
import { createServer, type IncomingMessage, type ServerResponse } from "node:http";
import { join } from "node:path";
import { pipeline } from "node:stream/promises";
import { Transform } from "node:stream";

/** A refusal, with every reason that there is. */
export class Refused extends Error {
  constructor(
    readonly reasons: string[],
    readonly status = 422,
  ) {
    super(reasons.join(" "));
  }
}

export interface Taken {
  path: string;
  bytes: number;
  sha256: string;
}

/** Takes a request's body into a file of `folder`. @throws Refused where it is larger than `most` bytes */
export async function take(request: IncomingMessage, folder: string, most: number): Promise<Taken> {
  await mkdir(folder, { recursive: true });
  const path = join(folder, `.taking-${randomUUID()}`);
  const hash = createHash("sha256");
  let bytes = 0;
  const counted = new Transform({
    transform(chunk: Buffer, _, done) {
      bytes += chunk.length;
      hash.update(chunk);
      done(bytes > most ? new Refused([`The file is larger than ${most} bytes.`], 413) : null, chunk);
    },
  });
  try {
    await pipeline(request, counted, createWriteStream(path));
  } catch (error) {
    await rm(path, { force: true });
    throw error;
  }
  return { path, bytes, sha256: hash.digest("hex") };
}

const MOST_JSON = 1 << 20;

export async function json(request: IncomingMessage): Promise<unknown> {
  let text = "";
  for await (const chunk of request) {
    text += String(chunk);
    if (text.length > MOST_JSON) throw new Refused(["The description is larger than 1 MB."], 413);
  }
  try {
    return JSON.parse(text);
  } catch {
    throw new Refused(["The description is not JSON."], 400);
  }
}

export type Handler = (request: IncomingMessage, path: string[]) => Promise<{ status: number; answer: unknown }>;

const LOOPBACK = /^(127\.0\.0\.1|localhost|\[::1\])(:\d+)?$/;

/** Refuses what comes from other sites' pages, and paths in the place of names. */
async function answered(request: IncomingMessage, handle: Handler): ReturnType<Handler> {
  const { host = "", origin } = request.headers;
  if (!LOOPBACK.test(host)) throw new Refused(["This receiver answers on this machine's loopback address only."], 421);
  if (origin !== undefined && origin !== `http://${host}`)
    throw new Refused(["This was asked for by another site's page, and was not done."], 403);
  return handle(request, namesIn(request.url ?? "/"));
}

/** The parts of an address. @throws Refused where one is a path of its own, or stands for no text */
function namesIn(url: string): string[] {
  try {
    const names = new URL(url, "http://receiver").pathname.split("/").filter(Boolean).map(decodeURIComponent);
    if (!names.some((name) => /[/\\\p{Cc}]|^\.\.?$/u.test(name))) return names;
  } catch {
    // Told below.
  }
  throw new Refused(["The address holds a path or signs that stand for no character, where a name belongs."], 400);
}

/** Answers on loopback until the process ends. Port 0 takes any that is free; the one taken is told. */
export function serve(port: number, handle: Handler): Promise<number> {
  const answer = (response: ServerResponse, status: number, body: unknown) => {
    response.writeHead(status, { "Content-Type": "application/json" });
    response.end(`${JSON.stringify(body)}\n`);
  };
  const server = createServer((request, response) => {
    answered(request, handle).then(
      ({ status, answer: body }) => answer(response, status, body),
      (error: unknown) => {
        request.resume();
        if (error instanceof Refused)
          return answer(response, error.status, { accepted: false, reasons: error.reasons });
        answer(response, 500, { accepted: false, reasons: ["The receiver failed. Try again later."] });
      },
    );
  });
  return new Promise((resolve, reject) => {
    server.on("error", reject);
    server.listen(port, "127.0.0.1", () => resolve((server.address() as { port: number }).port));
  });
}
