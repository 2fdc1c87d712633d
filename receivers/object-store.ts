/**
 * A small simulated object store: PUT, GET, HEAD and DELETE of whole objects in a bucket, as S3 answers them. It checks
 * who signed a request, by the key's name; it is for trying things out, and no place for what must be kept.
 */
import { createReadStream } from "node:fs";
import { mkdir, rename, rm, stat } from "node:fs/promises";
import { createServer, type IncomingMessage, type ServerResponse } from "node:http";
import { dirname, join } from "node:path";
import { take } from "./answer";

const MOST_BYTES = 64 * 2 ** 30;
const NAME = /^[A-Za-z0-9._-]{1,200}$/;

export interface ObjectStore {
  port: number;
  /** Requests that were answered, by method. */
  asked: Record<string, number>;
  close(): void;
}

/** @param keyId requests signed by another key are refused */
export function objectStore(folder: string, keyId: string, port = 0): Promise<ObjectStore> {
  const asked: Record<string, number> = {};
  const answer = async (request: IncomingMessage, response: ServerResponse): Promise<void> => {
    const method = request.method ?? "GET";
    asked[method] = (asked[method] ?? 0) + 1;
    const end = (status: number, headers: Record<string, string> = {}) => {
      response.writeHead(status, headers);
      response.end();
    };
    const signed = /^AWS4-HMAC-SHA256 Credential=([^/]+)\//.exec(request.headers.authorization ?? "")?.[1];
    const parts = new URL(request.url ?? "/", "http://store").pathname
      .split("/")
      .filter(Boolean)
      .map(decodeURIComponent);
    if (signed !== keyId || parts.length < 2 || !parts.every((part) => NAME.test(part) && !/^\.+$/.test(part))) {
      request.resume();
      return end(signed === keyId ? 400 : 403);
    }
    const path = join(folder, ...parts);
    if (method === "PUT") {
      const taken = await take(request, folder, MOST_BYTES);
      await mkdir(dirname(path), { recursive: true });
      await rename(taken.path, path);
      return end(200, { ETag: `"${taken.sha256}"` });
    }
    const size = await stat(path).then(
      (about) => about.size,
      () => undefined,
    );
    if (method === "DELETE") {
      await rm(path, { force: true });
      return end(204);
    }
    if (size === undefined) return end(404);
    if (method === "HEAD") return end(200, { "Content-Length": String(size) });
    response.writeHead(200, { "Content-Length": String(size) });
    createReadStream(path).pipe(response);
  };
  const server = createServer((request, response) => {
    answer(request, response).catch(() => {
      response.writeHead(500);
      response.end();
    });
  });
  return new Promise((resolve, reject) => {
    server.on("error", reject);
    server.listen(port, "127.0.0.1", () =>
      resolve({ port: (server.address() as { port: number }).port, asked, close: () => server.close() }),
    );
  });
}
