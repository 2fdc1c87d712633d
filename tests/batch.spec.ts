/** Many files by the command line: a batch that is killed, a watched folder, a worker of another machine. */
import { createHash } from "node:crypto";
import { execFileSync, spawn, spawnSync } from "node:child_process";
import { mkdirSync, readdirSync, readFileSync, rmSync, statSync } from "node:fs";
import { rename } from "node:fs/promises";
import { join } from "node:path";
import { expect, test } from "@playwright/test";
import { command, file, newProject, onlyDeliver, processes, programme, projectOf, recording, takeIn } from "./studio";

const sha = (path: string) => createHash("sha256").update(readFileSync(path)).digest("hex");
const resonum = (...args: string[]) =>
  spawnSync("node", ["bin/resonum", ...args], { encoding: "utf8", maxBuffer: 1 << 26 });

/** An empty folder of that name beside the recordings. */
function emptyFolder(beside: string, name: string): string {
  const folder = join(beside, "..", name);
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder);
  return folder;
}

test("a batch killed at any moment loses nothing and does nothing twice", async () => {
  test.setTimeout(240_000);
  const paths = [];
  for (let n = 1; n <= 4; n++) paths.push(await recording(`Batch/${n}.wav`, programme(20, 0.2 * n)));
  await file("Batch/broken.wav", "RIFFnope");
  const folder = join(paths[0]!, "..");
  const [out, plain] = [emptyFolder(folder, "Batch masters"), emptyFolder(folder, "Batch plain")];
  const args = ["render", folder, "--spec", "ebu-r128", "--spec", "streaming-16", "--out"];
  for (const milliseconds of [800, 1700]) {
    const child = spawn("node", ["bin/resonum", ...args, out], { detached: true, stdio: "ignore" });
    await new Promise((resolve) => setTimeout(resolve, milliseconds));
    try {
      process.kill(-child.pid!, "SIGKILL");
    } catch {
      break; // it was faster
    }
    // Whatever has its name is whole.
    for (const name of readdirSync(out).filter((one) => one.endsWith(".wav")))
      expect(resonum("measure", join(out, name), "--json").status).toBe(0);
  }
  const finished = readdirSync(out).filter((name) => name.endsWith(".wav"));
  const times = new Map(finished.map((name) => [name, statSync(join(out, name)).mtimeMs]));
  const { status, stdout } = resonum(...args, out, "--json");
  expect(status).toBe(2); // one of the files is none
  const { done, skipped, failed, files } = JSON.parse(stdout);
  expect({ all: done + skipped, failed }).toEqual({ all: 8, failed: 2 });
  expect(files.filter(({ state }: { state: string }) => state === "failed")[0].problem).toBeTruthy();
  // What the journal knew was left as it was.
  for (const one of files.filter(({ state }: { state: string }) => state === "skipped"))
    expect(statSync(one.out).mtimeMs).toBe(times.get(one.out.split("/").pop()));
  expect(readdirSync(out).filter((name) => name.startsWith(".making"))).toEqual([]);

  // The same bytes as a batch that nobody killed, and a second run does nothing.
  resonum(...args, plain, "--json");
  const masters = readdirSync(plain).filter((name) => name.endsWith(".wav"));
  expect(masters).toHaveLength(8);
  for (const name of masters) expect(sha(join(out, name))).toBe(sha(join(plain, name)));
  expect(JSON.parse(resonum(...args, out, "--json").stdout)).toMatchObject({ done: 0, skipped: 8, failed: 2 });
});

test("a disk that becomes full ends one file with a clear word, and loses nothing", async () => {
  const folder = join(await recording("Full/one.wav", programme(8, 0.5)), "..");
  await recording("Full/two.wav", programme(20, 0.5));
  const out = emptyFolder(folder, "Full disk");
  // A disk of 4 MB, for this command alone: the first master has room, the second has not.
  const script = `mount -t tmpfs -o size=4m none "${out}" && node bin/resonum render "${folder}" --out "${out}" --json; ls -A "${out}" >&2`;
  const { stdout, stderr, status } = spawnSync("unshare", ["-Urm", "sh", "-c", script], { encoding: "utf8" });
  test.skip(status !== 0 && /not permitted/.test(stderr), "this machine lets nobody mount a disk of its own");
  const { files } = JSON.parse(stdout);
  expect(files.map(({ state }: { state: string }) => state)).toEqual(["done", "failed"]);
  expect(files[1].problem).toMatch(/disk is full/);
  expect(stderr.trim().split("\n").sort()).toEqual([".resonum-batch.json", "one.wav"]);
});

test("one gain for a folder keeps its relations, and a spec of one's own is taken from a file", async () => {
  const folder = join(await recording("Side/one.wav", programme(8, 0.7)), "..");
  await recording("Side/two.wav", programme(8, 0.2));
  const out = emptyFolder(folder, "Side masters");
  const { stdout } = resonum("render", folder, "--spec", "aes77-music-album", "--out", out, "--json");
  const [loud, quiet] = JSON.parse(stdout).files.map(
    ({ integratedLufs }: { integratedLufs: number }) => integratedLufs,
  );
  expect(loud).toBeCloseTo(-14, 1);
  const measured = JSON.parse(resonum("measure", folder, "--json").stdout) as Record<
    string,
    { integratedLufs: number }
  >;
  const [first, second] = Object.values(measured).map(({ integratedLufs }) => integratedLufs);
  expect(loud - quiet).toBeCloseTo(first! - second!, 1);

  const [ebu] = JSON.parse(resonum("specs", "--json").stdout) as object[];
  const own = await file(
    "own-spec.json",
    JSON.stringify({ ...ebu, id: "own-20", name: "Own −20", target: -20, limits: [] }),
  );
  const master = join(out, "own.mp3");
  expect(resonum("render", join(folder, "one.wav"), "--spec", own, "--out", master).status).toBe(0);
  const answer = JSON.parse(resonum("measure", master, "--json").stdout)[master];
  expect(answer.integratedLufs).toBeCloseTo(-20, 1);
});

test("a watched folder does what arrives, once it is all there", async () => {
  const folder = join(await recording("Inbox/first.wav", programme(4, 0.5)), "..");
  const out = emptyFolder(folder, "Outbox");
  const child = spawn(
    "node",
    [
      "bin/resonum",
      "watch",
      folder,
      "--spec",
      "streaming-16",
      "--container",
      "flac",
      "--out",
      out,
      "--poll-interval",
      "0.3",
    ],
    {
      stdio: "ignore",
    },
  );
  const masters = () => readdirSync(out).filter((name) => name.endsWith(".flac"));
  try {
    await expect.poll(masters, { timeout: 30_000 }).toEqual(["first - streaming-16.flac"]);
    const outside = await recording("second.wav", programme(4, 0.3));
    await rename(outside, join(folder, "second.wav"));
    await expect.poll(() => masters().length, { timeout: 30_000 }).toBe(2);
    // Another may not work there meanwhile.
    expect(resonum("render", join(folder, "first.wav"), join(folder, "second.wav"), "--out", out).stderr).toMatch(
      /Another batch/,
    );
  } finally {
    child.kill("SIGTERM");
    await new Promise((resolve) => child.on("close", resolve));
  }
  expect(readdirSync(out).filter((name) => name.endsWith(".lock"))).toEqual([]);
  const once = resonum(
    "watch",
    folder,
    "--spec",
    "streaming-16",
    "--container",
    "flac",
    "--out",
    out,
    "--once",
    "--every",
    "0.3",
  );
  expect(once.stdout).toMatch(/skipped[\s\S]*skipped/);
});

test("a worker of another machine joins the queue, and a long item is worked on in segments by all", async ({
  page,
}) => {
  test.setTimeout(240_000);
  const path = await recording("Long item.wav", programme(640, 0.5, 8000, 1), 8000);
  const project = await newProject(page, "Many hands", "Podcast");
  await takeIn(page, [path]);
  // Few samples, so that it is the segments that take the time.
  await onlyDeliver(page, project, "mono-speech-19");
  await expect(page.getByTestId("lanes")).toBeVisible({ timeout: 20_000 });
  const { document } = await projectOf(page, project);
  const [item] = document.items;
  const [deliverable] = document.deliverables;
  const format = { ...deliverable!.format, sampleRate: 8000 };
  await command(page, project, { type: "setDeliverable", deliverable: { ...deliverable, format } });
  const entry = { type: "compressor", id: "c", bypass: false, thresholdDb: -30, ratio: 3 };
  await command(page, project, { type: "addProcessor", item: item!.id, entry });
  const before = processes("dist/worker.mjs").length;
  const address = new URL(process.env.RESONUM_DATABASE_URL!);
  const { password } = address;
  // What stands on a command line can be read by everybody.
  const told = spawnSync("node", ["bin/resonum", "worker", "--database", address.href], { encoding: "utf8" });
  expect(told.stderr).toMatch(/password on a command line/);
  address.password = "";
  const { RESONUM_DATABASE_URL: _, ...environment } = process.env;
  const helper = spawn(
    "node",
    ["bin/resonum", "worker", "--database", address.href, "--data", process.env.RESONUM_DATA!],
    { stdio: "ignore", detached: true, env: { ...environment, PGPASSWORD: password } },
  );
  try {
    await expect.poll(() => processes("worker.mjs").length, { timeout: 20_000 }).toBeGreaterThan(before);
    await page.keyboard.press("6");
    await page.getByRole("button", { name: /Render what changed/ }).click();
    const cell = page.locator('[data-testid^="cell-"]').first();
    await expect(cell).toHaveAttribute("data-state", "verified", { timeout: 120_000 });
  } finally {
    process.kill(-helper.pid!, "SIGTERM");
  }
  // One process alone makes the same bytes.
  const answer = await page.request.get(`/api/projects/${project}/documents/Manifest.json`);
  const manifest = await file("hands/Manifest.json", await answer.text());
  const replayed = execFileSync("node", [
    "bin/resonum",
    "render",
    "--manifest",
    manifest,
    "--sources",
    join(path, ".."),
    "--out",
    join(manifest, ".."),
    "--json",
  ]);
  for (const { state } of JSON.parse(replayed.toString())) expect(state).toBe("same");
});
