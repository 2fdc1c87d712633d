// `npm run bench [-- measure | studio | view | repair [PART] | chain | sound | deliver [specs | converter | album] | reliability [kills N] [files N] [page N] [fuzz S] [soak S] [crowd N] [states N] | deviation FOLDER] [--long]`: speed as ratios and multiples of real time, memory
// as peaks, and how far figures are from another meter's.
import { spawn, spawnSync } from "node:child_process";
import { existsSync, mkdirSync, readdirSync, readFileSync } from "node:fs";
import { join } from "node:path";
import { buildBench, buildBundles, buildWeb } from "./build.mjs";
import { benchView } from "./bench-view.mjs";
import { inRoot, root } from "./paths.mjs";
import { say } from "./say.mjs";
import { discardData } from "./postgres.mjs";
import { withStudio } from "./test.mjs";

const RUNS = 5;
const folder = inRoot(".build", "bench");

/** Seconds of sound that is made; more is repeated. */
const LONGEST_MADE = 600;

/** Pink noise under a tone that swells, 24 bit: neither silent nor always at its loudest. */
function recording(name, seconds, channels) {
  const path = join(folder, name);
  if (existsSync(path)) return path;
  mkdirSync(folder, { recursive: true });
  say(`Making ${name} …`);
  if (seconds > LONGEST_MADE) {
    // Longer ones repeat a shorter one.
    const part = recording(`part-${channels}.wav`, LONGEST_MADE, channels);
    const again = String(Math.ceil(seconds / LONGEST_MADE) - 1);
    const { status, stderr } = spawnSync(
      "ffmpeg",
      [
        "-v",
        "error",
        "-y",
        "-stream_loop",
        again,
        "-i",
        part,
        "-t",
        String(seconds),
        "-c",
        "copy",
        "-rf64",
        "auto",
        path,
      ],
      { encoding: "utf8" },
    );
    if (status !== 0) throw new Error(stderr);
    return path;
  }
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

/** Seconds that a whole process takes, and the most memory that it had. */
function timed(command, args) {
  return new Promise((resolve, reject) => {
    const began = process.hrtime.bigint();
    const child = spawn(command, args, { cwd: root, stdio: "ignore" });
    let megabytes = 0;
    const look = setInterval(() => {
      if (existsSync(`/proc/${child.pid}/status`)) megabytes = Math.max(megabytes, peakMegabytes(child.pid));
    }, 100);
    child.on("close", (status) => {
      clearInterval(look);
      const seconds = Number(process.hrtime.bigint() - began) / 1e9;
      if (status === 0) resolve({ seconds, megabytes });
      else reject(new Error(`${command} ${args.join(" ")} ended with ${status}`));
    });
  });
}

const ebur128 = (path) => ["-nostats", "-hide_banner", "-i", path, "-af", "ebur128=peak=true", "-f", "null", "-"];

/** Everything that is measured, against four figures by ffmpeg: whole processes, alternating. */
async function measure() {
  for (const [name, seconds, channels] of [
    ["stereo-600.wav", 600, 2],
    ["wide-180.wav", 180, 12],
    ["mono-7200.wav", 7200, 1],
  ]) {
    const path = recording(name, seconds, channels);
    const runs = [];
    for (let run = 0; run <= RUNS; run++) {
      const ours = await timed(process.execPath, ["dist/cli.mjs", "measure", path, "--json"]);
      const theirs = await timed("ffmpeg", ebur128(path));
      const two = await timed(process.execPath, ["dist/cli.mjs", "measure", path, "--json", "--threads", "2"]);
      if (run > 0) runs.push({ ours, theirs, two }); // the first warms up
    }
    const middle = (of) => median(runs.map(of));
    console.log(
      `measure ${name}: ratio ${middle((run) => run.ours.seconds / run.theirs.seconds).toFixed(2)} on one thread, ` +
        `${middle((run) => run.two.seconds / run.theirs.seconds).toFixed(2)} on two (medians of ${RUNS}); ` +
        `${middle((run) => run.ours.seconds).toFixed(1)} s, ${middle((run) => run.two.seconds).toFixed(1)} s, ` +
        `ffmpeg ${middle((run) => run.theirs.seconds).toFixed(1)} s; ${middle((run) => run.ours.megabytes)} MB`,
    );
  }
}

/** The last value of a key that ffmpeg's meter prints for each frame. */
const lastOf = (text, key) =>
  Number(
    text
      .match(new RegExp(`${key}=(\\S+)`, "g"))
      ?.pop()
      ?.split("=")[1],
  );

/** How far our figures are from ffmpeg's, on recordings in a folder: it decides nothing where the standard is clear. */
function deviation(folder) {
  if (!folder) throw new Error("Say which folder: npm run bench -- deviation FOLDER");
  const files = readdirSync(folder, { recursive: true })
    .filter((name) => /\.(wav|flac|ogg|opus|mp3)$/i.test(name))
    .map((name) => join(folder, name));
  const rows = files.map((file) => {
    const wav = join(root, ".build", "bench", "deviation.wav");
    const decoded = spawnSync("ffmpeg", ["-v", "error", "-y", "-i", file, "-c:a", "pcm_f32le", wav], {
      encoding: "utf8",
    });
    if (decoded.status !== 0) return { file, problem: decoded.stderr.trim().split("\n")[0] };
    const filter = "ebur128=peak=true:metadata=1,ametadata=mode=print:file=-";
    const { stdout } = spawnSync("ffmpeg", ["-v", "error", "-i", wav, "-af", filter, "-f", "null", "-"], {
      encoding: "utf8",
      maxBuffer: 1 << 30,
    });
    const json = spawnSync(process.execPath, ["dist/cli.mjs", "measure", wav, "--json"], {
      cwd: root,
      encoding: "utf8",
    });
    const figures = Object.values(JSON.parse(json.stdout))[0];
    const peaks = [0, 1, 2, 3, 4, 5].map((c) => lastOf(stdout, `r128\\.true_peaks_ch${c}`)).filter(Number.isFinite);
    return {
      file,
      seconds: figures.durationSeconds,
      loudness: figures.integratedLufs - lastOf(stdout, "r128\\.I"),
      range: figures.loudnessRangeLu - lastOf(stdout, "r128\\.LRA"),
      peak: figures.truePeakDbtp - 20 * Math.log10(Math.max(...peaks)),
    };
  });
  const compared = rows.filter(({ loudness }) => Number.isFinite(loudness));
  const largest = (of) => compared.reduce((most, row) => Math.max(most, Math.abs(row[of])), 0).toFixed(3);
  console.log(
    `${compared.length} of ${files.length} recordings compared: at most ${largest("loudness")} LU in loudness, ` +
      `${largest("range")} LU in range, ${largest("peak")} dB in true peak`,
  );
  const far = ({ loudness, range, peak }) => Math.abs(loudness) > 0.1 || Math.abs(range) > 0.1 || Math.abs(peak) > 0.2;
  for (const row of compared.filter(far))
    console.log(
      `  ${row.file.slice(folder.length)}, ${row.seconds.toFixed(1)} s: loudness ${row.loudness.toFixed(3)}, ` +
        `range ${row.range.toFixed(3)}, true peak ${row.peak.toFixed(3)}`,
    );
}

/** 0 for a process that has just ended. */
const peakMegabytes = (pid) =>
  Math.round(Number(/VmHWM:\s+(\d+)/.exec(readFileSync(`/proc/${pid}/status`, "utf8"))?.[1] ?? 0) / 1024);

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
    discardData(inRoot(".build", "test-data"));
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

/** A whole album through the studio: items × deliverables, rendered and verified by two workers. */
const ALBUM = { items: 7, seconds: 257 };
const ALBUM_DELIVERABLES = [
  { spec: "streaming-14", format: { sampleRate: 44100 } },
  { spec: "ebu-r128", format: {} },
  { spec: "cd-44-16", format: { bits: "16", sampleRate: 44100 } },
];

async function album() {
  await buildBundles();
  await buildWeb();
  const { chromium } = await import("@playwright/test");
  const whole = recording(`stereo-${LONGEST_MADE}.wav`, LONGEST_MADE, 2);
  const paths = Array.from({ length: ALBUM.items }, (_, n) => {
    const path = join(folder, `album-${n}.wav`);
    const from = String(n * 40);
    if (!existsSync(path))
      spawnSync("ffmpeg", [
        "-v",
        "error",
        "-y",
        "-ss",
        from,
        "-t",
        String(ALBUM.seconds),
        "-i",
        whole,
        "-c",
        "copy",
        path,
      ]);
    return path;
  });
  discardData(inRoot(".build", "test-data"));
  await withStudio(async (address, _environment, { workers }) => {
    const browser = await chromium.launch({
      executablePath: "/usr/bin/chromium",
      args: ["--no-sandbox", "--disable-dev-shm-usage"],
    });
    const page = await browser.newPage();
    const ask = async (path, data) => (await page.request.post(`${address}/api/${path}`, { data })).json();
    const view = async (id) => (await page.request.get(`${address}/api/projects/${id}`)).json();
    const { id } = await ask("projects", { name: "Bench album", template: "broadcast" });
    const edit = async (command) => ask(`projects/${id}/commands`, { base: (await view(id)).head, command });
    await page.goto(`${address}/projects/${id}`);
    await page.getByTestId("file-input").setInputFiles(paths);
    await page
      .locator('[data-testid="source"][data-state="ready"]')
      .nth(ALBUM.items - 1)
      .waitFor({ timeout: 600_000 });
    await page.goto("about:blank");
    await edit({ type: "removeDeliverable", deliverable: "d1" });
    const plain = {
      container: "wav",
      bits: "24",
      phase: "linear",
      dither: "flat",
      keepSilence: false,
      channels: "all",
      bitrateKbps: 192,
      variable: false,
      tracks: "replace",
    };
    for (const [n, { spec, format }] of ALBUM_DELIVERABLES.entries())
      await edit({ type: "addDeliverable", deliverable: { id: `a${n}`, spec, format: { ...plain, ...format } } });
    const { document } = await view(id);
    const masters = document.deliverables.flatMap((deliverable) =>
      document.items.map((item) => ({ item: item.id, deliverable: deliverable.id })),
    );
    const began = Date.now();
    await ask(`projects/${id}/masters`, { masters });
    let done = [];
    while (done.length < masters.length) {
      await new Promise((resolve) => setTimeout(resolve, 250));
      done = (await view(id)).masters.filter(({ state }) => state === "done" || state === "failed");
    }
    const seconds = (Date.now() - began) / 1000;
    const sound = masters.length * ALBUM.seconds;
    const passed = done.filter(({ result }) => result?.verdict?.pass).length;
    const memory = Math.max(...workers.map(({ pid }) => peakMegabytes(pid)));
    console.log(
      `\nAlbum: ${ALBUM.items} items × ${ALBUM_DELIVERABLES.length} deliverables, ${(sound / 60).toFixed(0)} min of masters in ${seconds.toFixed(0)} s by two workers: ${(sound / seconds).toFixed(0)}× real time (30); ${passed} of ${masters.length} verified inside; worker at most ${memory} MB`,
    );
    await browser.close();
  });
}

export async function bench(args) {
  await buildBundles();
  const what = args.filter((arg) => !arg.startsWith("--"));
  if (what[0] === "deviation") deviation(what[1]);
  // By itself: it takes an hour, and kills what it starts.
  if (what[0] === "reliability") {
    await buildWeb();
    const { status } = spawnSync(process.execPath, [await buildBench("reliability/main"), ...what.slice(1)], {
      stdio: "inherit",
    });
    return status ?? 1;
  }
  if (what.length === 0 || what[0] === "repair")
    spawnSync(process.execPath, [await buildBench("repair"), ...what.slice(1)], { stdio: "inherit" });
  if (what.length === 0 || what[0] === "chain") {
    const paths = [recording("stereo-60.wav", 60, 2), recording("wide-180.wav", 180, 12)];
    spawnSync(process.execPath, [await buildBench("chain"), ...paths], { stdio: "inherit" });
  }
  if (what.length === 0 || what[0] === "sound")
    spawnSync(process.execPath, [await buildBench("limiter"), ...what.slice(1)], { stdio: "inherit" });
  if (what.length === 0 || what[0] === "deliver") {
    if (what[1] !== "album")
      spawnSync(process.execPath, [await buildBench("deliver"), ...what.slice(1)], { stdio: "inherit" });
    if (what.length < 2 || what[1] === "album") await album();
  }
  if (what.length === 0 || what.includes("measure")) await measure();
  if (what.length === 0 || what.includes("studio")) await studio(args.includes("--long"));
  if (what.length === 0 || what.includes("view")) {
    await buildWeb();
    await benchView(recording, args.includes("--long"));
  }
  return 0;
}
