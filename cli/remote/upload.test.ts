import { mkdtemp, readFile, rm, writeFile } from "node:fs/promises";
import { createServer, type Server as HttpServer } from "node:http";
import type { AddressInfo } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { FileStore } from "@tus/file-store";
import { Server } from "@tus/server";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { uploadFile } from "./upload";

const CHUNK = 1000;
const PROJECT = "00000000-0000-4000-8000-000000000001";
let folder: string;
let http: HttpServer;
let asked: { method: string; offset: string | undefined }[];
/** Whether a request is refused. */
let isRefused: (request: { method: string; offset: string | undefined }) => boolean;

beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), "resonum-upload-"));
  vi.stubEnv("XDG_CACHE_HOME", join(folder, "cache"));
  asked = [];
  isRefused = () => false;
  const tus = new Server({ path: "/api/uploads", datastore: new FileStore({ directory: join(folder, "arrived") }) });
  http = createServer((request, response) => {
    const one = { method: request.method!, offset: request.headers["upload-offset"] as string | undefined };
    asked.push(one);
    if (!isRefused(one)) return void tus.handle(request, response);
    request.resume();
    response.writeHead(403).end("The disk of the studio is full.");
  });
  await new Promise<void>((listening) => http.listen(0, "127.0.0.1", listening));
});
afterEach(async () => {
  vi.unstubAllEnvs();
  http.closeAllConnections();
  http.close();
  await rm(folder, { recursive: true, force: true });
});

const bytes = Buffer.from(Array.from({ length: 3500 }, (_, i) => i % 251));
async function send(hash = "a".repeat(64)) {
  const file = join(folder, "Reed.wav");
  await writeFile(file, bytes);
  const server = `http://127.0.0.1:${(http.address() as AddressInfo).port}`;
  await uploadFile({ file, hash, project: PROJECT }, { server, json: true }, CHUNK);
}
const remembered = async () =>
  Object.keys(JSON.parse(await readFile(join(folder, "cache/resonum/uploads.json"), "utf8")));

describe("a file that is sent", () => {
  it("goes in parts, and nothing of it is remembered once it is there", async () => {
    await send();
    expect(asked.map(({ method, offset }) => [method, offset])).toEqual([
      ["POST", undefined],
      ...["0", "1000", "2000", "3000"].map((offset) => ["PATCH", offset]),
    ]);
    await expect.poll(remembered).toEqual([]);
  });

  it("goes on in a later run where the one before ended", async () => {
    isRefused = ({ method, offset }) => method === "PATCH" && offset === "2000";
    await expect(send()).rejects.toThrow("The disk of the studio is full.");
    expect(await remembered()).toHaveLength(1);
    isRefused = () => false;
    asked = [];
    await send();
    expect(asked.map(({ method, offset }) => [method, offset])).toEqual([
      ["HEAD", undefined],
      ["PATCH", "2000"],
      ["PATCH", "3000"],
    ]);
    await expect.poll(remembered).toEqual([]);
  });

  it("is begun anew where its bytes are others, or the studio has forgotten it", async () => {
    isRefused = ({ method, offset }) => method === "PATCH" && offset === "1000";
    await expect(send()).rejects.toThrow();
    isRefused = () => false;
    asked = [];
    await send("b".repeat(64));
    expect(asked[0]!.method).toBe("POST");
    asked = [];
    await rm(join(folder, "arrived"), { recursive: true });
    await send();
    expect(asked.slice(0, 2).map(({ method }) => method)).toEqual(["HEAD", "POST"]);
  });

  it("is sent as well where nothing can be remembered", async () => {
    await writeFile(join(folder, "no folder"), "");
    vi.stubEnv("XDG_CACHE_HOME", join(folder, "no folder"));
    await send();
    expect(asked.at(-1)).toEqual({ method: "PATCH", offset: "3000" });
  });
});
