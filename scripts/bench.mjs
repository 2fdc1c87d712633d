// `npm run bench [-- measure | studio] [--long]`: speed as ratios and multiples of real time, memory as peaks.
import { spawnSync } from "node:child_process";
import { existsSync, mkdirSync, readFileSync, rmSync } from "node:fs";
import { join } from "node:path";
import { buildBundles, buildWeb } from "./build.mjs";
import { inRoot, root } from "./paths.mjs";
import { say } from "./say.mjs";
import { withStudio } from "./test.mjs";

const RUNS = 5;
const folder = inRoot(".build", "bench");

/** Pink noise under a tone that swells, 24 bit: neither silent nor always at its loudest. */
function recording(name, seconds, channels) {
  const path = join(folder, name);
  if (existsSync(path)) return path;
  mkdirSync(folder, { recursive: true });
  say(`Making ${name} …`);
  const side = (seed) => `anoisesrc=c=pink:a=0.25:r=48000:s=${seed}:d=${seconds},tremolo=f=0.15:d=0.8`;
  const inputs = Array.from({ length: channels }, (_, c) => ["-f", "lavfi", "-i", side(c + 1)]).flat();
  const merge = channels > 1 ? ["-filter_complex", `amerge=inputs=${channels}`] : [];
  const { status, stderr } = spawnSync(
    "ffmpeg",
    ["-v", "error", "-y", ...inputs, ...merge, "-c:a", "pcm_s24le", "-rf64", "auto", path],
    { encoding: "utf8" },
  );
  if (status !== 0) throw new Error(stderr);
  return path;
}

const median = (list) => list.toSorted((a, b) => a - b)[Math.floor(list.length / 2)];

function timed(command, args) {
  const began = process.hrtime.bigint();
  const { status } = spawnSync(command, args, { cwd: root, stdio: "ignore" });
  if (status !== 0) throw new Error(`${command} ${args.join(" ")} ended with ${status}`);
  return Number(process.hrtime.bigint() - began) / 1e9;
}

/** Everything that is measured, against four figures by ffmpeg: whole processes, alternating. */
function measure() {
  for (const [name, seconds, channels] of [
    ["stereo-600.wav", 600, 2],
    ["wide-180.wav", 180, 12],
  ]) {
    const path = recording(name, seconds, channels);
    const ours = [];
    const theirs = [];
    const ratios = [];
    for (let run = 0; run <= RUNS; run++) {
      const a = timed(process.execPath, ["dist/cli.mjs", "measure", path, "--json"]);
      const b = timed("ffmpeg", [
        "-nostats",
        "-hide_banner",
        "-i",
        path,
        "-af",
        "ebur128=peak=true",
        "-f",
        "null",
        "-",
      ]);
      if (run === 0) continue; // warm-up
      ours.push(a);
      theirs.push(b);
      ratios.push(a / b);
    }
    console.log(
      `measure ${name}: ${median(ours).toFixed(1)} s, ffmpeg ${median(theirs).toFixed(1)} s, ratio ${median(ratios).toFixed(2)} (medians of ${RUNS})`,
    );
  }
}

const peakMegabytes = (pid) =>
  Math.round(Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, "utf8"))[1]) / 1024);

/** From the drop of a recording in Chromium to its figures, and to a verified master. */
async function throughStudio(page, address, path, seconds) {
  const made = await page.request.post(`${address}/api/projects`, {
    data: { name: `Bench ${seconds}`, template: "broadcast" },
  });
  const { id } = await made.json();
  await page.goto(`${address}/projects/${id}`);
  await page.getByTestId("file-input").waitFor({ state: "attached" });
  let began = Date.now();
  await page.getByTestId("file-input").setInputFiles(path);
  await page.locator('[data-testid="source"][data-state="ready"]').waitFor({ timeout: 3_600_000 });
  const intake = (Date.now() - began) / 1000;
  began = Date.now();
  await page.keyboard.press("6");
  await page.getByRole("button", { name: /Render what changed/ }).click();
  await page.locator('[data-testid^="cell-"][data-state="verified"]').waitFor({ timeout: 3_600_000 });
  const render = (Date.now() - began) / 1000;
  return { intake, render };
}

async function studio(long) {
  const { chromium } = await import("@playwright/test");
  await buildBundles();
  await buildWeb();
  const lengths = long ? [600, 7200] : [600];
  const paths = lengths.map((seconds) => recording(`stereo-${seconds}.wav`, seconds, 2));
  for (const [index, seconds] of lengths.entries()) {
    rmSync(inRoot(".build", "test-data"), { recursive: true, force: true });
    await withStudio(async (address, _environment, { web, workers }) => {
      const browser = await chromium.launch({
        executablePath: "/usr/bin/chromium",
        args: ["--no-sandbox", "--disable-dev-shm-usage"],
      });
      const { intake, render } = await throughStudio(await browser.newPage(), address, paths[index], seconds);
      await browser.close();
      const memory = `web server ${peakMegabytes(web.pid)} MB, worker ${Math.max(...workers.map(({ pid }) => peakMegabytes(pid)))} MB`;
      console.log(
        `${seconds} s stereo: drop to figures ${intake.toFixed(1)} s; render to ebu-r128 ${render.toFixed(1)} s, ${(seconds / render).toFixed(0)}× real time; peak memory ${memory}`,
      );
    });
  }
}

export async function bench(args) {
  await buildBundles();
  const what = args.filter((arg) => !arg.startsWith("--"));
  if (what.length === 0 || what.includes("measure")) measure();
  if (what.length === 0 || what.includes("studio")) await studio(args.includes("--long"));
  return 0;
}
