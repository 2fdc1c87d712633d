import { execFile, spawnSync } from "node:child_process";
import { readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { promisify } from "node:util";
import { expect, test } from "@playwright/test";
import { CONFORMANCE_RATES } from "@core/conformance/cases";
import { memorySource } from "@core/files/bytes";
import { measureFile } from "@core/delivery/verify-master";
import { layoutNamed } from "@core/audio/layout";
import { file, programme, recording } from "./studio";

function resonum(...args: string[]) {
  const { status, stdout, stderr } = spawnSync("node", ["bin/resonum", ...args], {
    encoding: "utf8",
    maxBuffer: 1 << 26,
  });
  return { status, stdout, stderr };
}

test("measure prints JSON and nothing else; a file that cannot be read does not stop the others", async () => {
  const good = await recording("Cli.wav", programme(5, 0.5));
  const bad = await file("Cli bad.wav", "RIFFnope");
  const { status, stdout } = resonum("measure", good, bad, "/nowhere.wav", "--json");
  expect(status).toBe(2);
  const answers = JSON.parse(stdout);
  expect(Object.keys(answers)).toEqual([good, bad, "/nowhere.wav"]);
  expect(answers[good].integratedLufs).toBeLessThan(0);
  expect(answers[bad].error).toBeTruthy();
  expect(answers["/nowhere.wav"].error).toMatch(/no file/);
});

test("render brings a recording to its spec by a recipe; check tells by its exit code", async () => {
  const path = await recording("Cli render.wav", programme(8, 0.8));
  const recipe = await file(
    "recipe.json",
    JSON.stringify({
      chain: [
        { type: "gain", gainDb: -2 },
        { type: "limiter", ceilingDbtp: -4 },
      ],
      spec: "streaming-16",
    }),
  );
  const out = join(path, "..", "Cli master.wav");
  const { status, stdout } = resonum(
    "render",
    path,
    "--out",
    out,
    "--recipe",
    recipe,
    "--bits",
    "24",
    "--rate",
    "44100",
    "--json",
  );
  expect(status).toBe(0);
  expect(JSON.parse(stdout).verdict.pass).toBe(true);
  const { figures } = await measureFile(memorySource(new Uint8Array(readFileSync(out))), layoutNamed("stereo")!);
  expect(figures.sampleRate).toBe(44100);
  expect(Math.abs(figures.integratedLufs! + 16)).toBeLessThanOrEqual(0.05);
  expect(resonum("check", out, "--spec", "streaming-16").status).toBe(0);
  expect(resonum("check", out, "--spec", "ebu-r128").status).toBe(1);
});

test("errors are one clear line, and nothing half-written stays", async () => {
  const path = await recording("Cli error.wav", programme(2, 0.5));
  const wrong = await file("wrong.json", JSON.stringify({ chain: [{ type: "limiter", ceilingDbtp: 40 }] }));
  const out = join(path, "..", "never.wav");
  for (const args of [
    ["render", path, "--out", out, "--recipe", wrong],
    ["render", path, "--out", out, "--spec", "loudest"],
    ["render", path, "--out", out, "--bits", "12"],
    ["render", path, "--out", path],
    ["render", "/nowhere.wav", "--out", out],
    ["check", path],
    ["polish", path],
  ]) {
    const { status, stdout, stderr } = resonum(...args);
    expect({ args, status, stdout }).toEqual({ args, status: 2, stdout: "" });
    expect(stderr.trim().split("\n")).toHaveLength(1);
    expect(stderr).toMatch(/^resonum: /);
  }
  expect(readdirSync(join(path, "..")).filter((name) => name.includes("never"))).toEqual([]);
});

test("specs and processors list what the definitions say", () => {
  expect(JSON.parse(resonum("specs", "--json").stdout).map(({ id }: { id: string }) => id)).toContain("ebu-r128");
  const processors = JSON.parse(resonum("processors", "--json").stdout);
  expect(processors.find(({ id }: { id: string }) => id === "limiter").parameters.ceilingDbtp).toMatchObject({
    unit: "dBTP",
    default: -1,
  });
});

test("a reader that has read enough ends it without an error", () => {
  const { status, stdout, stderr } = spawnSync("bash", ["-c", "set -o pipefail; bin/resonum specs --json | head -1"], {
    encoding: "utf8",
  });
  expect([status, stdout, stderr]).toEqual([0, "[\n", ""]);
});

test("measure goes through folders, holds all against a spec, and writes tables and reports", async () => {
  const folder = join(await recording("Folder/one.wav", programme(6, 0.6)), "..");
  await recording("Folder/below/two.wav", programme(6, 0.2));
  await file("Folder/notes.txt", "no sound");
  const at = (name: string) => join(folder, name);
  const { status, stdout } = resonum(
    "measure",
    folder,
    "--spec",
    "ebu-r128",
    "--csv",
    at("t.csv"),
    "--html",
    at("t.html"),
    "--pdf",
    at("t.pdf"),
  );
  expect(status).toBe(1); // measured, and not inside
  expect(stdout).toMatch(/1\/2 +fails/);
  expect(readFileSync(at("t.csv"), "utf8").trim().split("\n")).toHaveLength(3);
  expect(readFileSync(at("t.html"), "utf8")).toContain("<svg");
  expect(readFileSync(at("t.pdf")).subarray(0, 5).toString()).toBe("%PDF-");
  const { status: none, stderr } = resonum("measure", join(folder, "..", "..", "e2e-empty-folder-that-is-not"));
  expect(none).toBe(2);
  expect(stderr).toMatch(/no file/);
});

test("measure by two threads gives the same answer as by one", async () => {
  const path = await recording("Threads.wav", programme(130, 0.5, 8000, 2), 8000);
  const answer = (threads: string) => resonum("measure", path, "--threads", threads, "--json").stdout;
  expect(answer("2")).toBe(answer("1"));
  expect(resonum("measure", path, "--threads", "0").stderr).toMatch(/whole number from 1/);
});

test("the meter conforms at the lowest and the highest rate; the unit tests hold 48 kHz, the command all six", async () => {
  test.setTimeout(300_000);
  for (const rate of [CONFORMANCE_RATES[0]!, CONFORMANCE_RATES.at(-1)!]) {
    const { stdout } = await promisify(execFile)("node", [
      "bin/resonum",
      "conformance",
      "--rate",
      String(rate),
      "--json",
    ]);
    const results = JSON.parse(stdout) as { pass: boolean; sampleRate: number }[];
    expect(results).toHaveLength(29);
    expect(results.filter(({ pass, sampleRate }) => !pass || sampleRate !== rate)).toEqual([]);
  }
  expect(resonum("conformance", "--rate", "12345").stderr).toMatch(/44100, 48000/);
});
