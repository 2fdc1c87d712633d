/** The command line against a studio: what programs of a night's batch do, on the application as it runs. */
import { execFile } from "node:child_process";
import { createHash } from "node:crypto";
import { mkdtemp, readFile, readdir, writeFile, copyFile } from "node:fs/promises";
import { tmpdir } from "node:os";
import { basename, join } from "node:path";
import { expect, test } from "@playwright/test";
import { programme, recording } from "./studio";

/** Runs `resonum`; the exit code and what it printed. */
const resonum = (...args: string[]) =>
  new Promise<{ code: number; out: string; err: string }>((resolve) => {
    execFile(process.execPath, ["dist/cli.mjs", ...args], { maxBuffer: 64 << 20 }, (error, out, err) =>
      resolve({ code: typeof error?.code === "number" ? error.code : error ? -1 : 0, out, err }),
    );
  });

const folder = () => mkdtemp(join(tmpdir(), "resonum-remote-"));
const sha256 = (bytes: Buffer) => createHash("sha256").update(bytes).digest("hex");

test("a recording is sent, measured, rendered and fetched by commands, and nothing is done twice", async ({
  baseURL,
}) => {
  const server = ["--server", baseURL!];
  const project = ["--project", `Night batch ${Date.now()}`];
  const file = await recording("night-batch.wav", programme(6, 0.3));
  const out = await folder();

  const measured = await resonum("measure", file, ...server, "--json");
  const there = (JSON.parse(measured.out) as Record<string, { integratedLufs: number }>)[file]!;
  const here = JSON.parse((await resonum("measure", file, "--json")).out)[file] as { integratedLufs: number };
  expect(there.integratedLufs).toBe(here.integratedLufs);

  const missing = await resonum("push", file, ...server, ...project);
  expect(missing.code).toBe(2);
  expect(missing.err).toContain("There is no project");
  const pushed = await resonum("push", file, ...server, ...project, "--template", "podcast", "--json");
  expect(JSON.parse(pushed.out)).toMatchObject({ files: [{ file, state: "taken in", problem: null }] });
  const again = await resonum("push", file, ...server, ...project);
  expect(again.out).toMatch(/^there already/);

  const rendered = await resonum("render", ...server, ...project, "--out", out, "--json");
  const { masters, fetched } = JSON.parse(rendered.out) as {
    masters: { state: string; pass: boolean; sha256: string; file: string }[];
    fetched: { state: string; file: string }[];
  };
  expect(rendered.code).toBe(0);
  expect(masters.length).toBeGreaterThan(0);
  for (const { state, pass, sha256: hash, file: name } of masters) {
    expect([name, state, pass]).toEqual([name, "done", true]);
    expect(sha256(await readFile(join(out, name)))).toBe(hash);
  }
  expect(fetched.every(({ state }) => state === "fetched")).toBe(true);

  // What is damaged is fetched once more; what is whole is not; nothing half-written stays.
  await writeFile(join(out, masters[0]!.file), "damaged");
  const mended = await resonum("fetch", ...server, ...project, "--out", out, "--documents", "--json");
  const { masters: files, documents } = JSON.parse(mended.out) as { masters: { state: string }[]; documents: string[] };
  expect(files.filter(({ state }) => state === "fetched")).toHaveLength(1);
  expect(sha256(await readFile(join(out, masters[0]!.file)))).toBe(masters[0]!.sha256);
  expect(documents.map((path) => basename(path))).toContain("Manifest.json");
  expect((await readdir(out)).filter((name) => name.endsWith(".arriving"))).toEqual([]);
});

test("a watched folder goes through a project of the studio", async ({ baseURL, request }) => {
  const name = `Watched ${Date.now()}`;
  const made = await request.post("/api/projects", { data: { name, template: "podcast" } });
  expect(made.ok()).toBe(true);
  const [inbox, out] = [await folder(), await folder()];
  await copyFile(await recording("watched-there.wav", programme(5, 0.2)), join(inbox, "arrives.wav"));
  const watched = await resonum(
    ...["watch", inbox, "--out", out, "--once", "--poll-interval", "0.3"],
    ...["--server", baseURL!, "--project", name],
  );
  expect(watched.err).toBe("");
  expect(watched.out).toMatch(/taken in +.*arrives\.wav/);
  expect(watched.out).toMatch(/fetched +.*LUFS/);
  expect((await readdir(out)).filter((file) => !file.startsWith(".")).length).toBeGreaterThan(0);
});

test("what cannot be is one clear line", async ({ baseURL }) => {
  const file = await recording("refused-there.wav", programme(1, 0.2));
  const refused = async (...args: string[]) => {
    const { code, err } = await resonum(...args);
    expect(code).toBe(2);
    expect(err.trim().split("\n")).toHaveLength(1);
    return err;
  };
  expect(await refused("push", file, "--server", "studio.example", "--project", "x")).toContain("is none");
  expect(await refused("push", file, "--server", "http://studio.example", "--project", "x")).toContain("Use https");
  expect(await refused("push", file, "--server", "http://127.0.0.1:9", "--project", "x")).toContain("does not answer");
  expect(await refused("push", file, "--server", baseURL!)).toContain("Say which project");
  expect(await refused("render", file, "--server", baseURL!, "--project", "x")).toContain("push");
  expect(await refused("render", "--server", baseURL!, "--project", "x", "--spec", "cd-44-16")).toContain("--spec");
  expect(await refused("push", "nowhere.wav", "--server", baseURL!, "--project", "x")).toMatch(/no project|not there/);
});
