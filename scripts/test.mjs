// `npm test`: types, lint, unit tests, build, and the real application driven in Chromium.
import { spawn } from "node:child_process";
import { existsSync, mkdirSync, readdirSync, readFileSync, rmSync } from "node:fs";
import { join } from "node:path";
import { buildBench, buildBundles, buildWeb } from "./build.mjs";
import { inRoot, root } from "./paths.mjs";
import { studioAccount } from "./account.mjs";
import { discardData, freePort, startPostgres } from "./postgres.mjs";
import { startReceivers, startWeb, startWorkers, untilAnswering } from "./processes.mjs";
import { say } from "./say.mjs";

const WORKERS = 2;

/** Runs Node; `gently` where others must not wait for it. */
function run(words, args, environment = {}, gently = false) {
  const [program, ...before] = gently ? ["nice", "-n", "19", process.execPath] : [process.execPath];
  const child = spawn(program, [...before, ...args], {
    cwd: root,
    stdio: ["ignore", "inherit", "inherit"],
    env: { ...process.env, ...environment },
  });
  return new Promise((resolve) => {
    child.on("error", (error) => {
      say(`${words}: ${error.message}`);
      resolve(1);
    });
    child.on("exit", (code) => resolve(code ?? 1));
  });
}

const bin = (...parts) => inRoot("node_modules", ...parts);
const tally = { passed: 0, failed: 0 };

/** A check that passes or fails as a whole. */
async function check(words, args) {
  const began = Date.now();
  const code = await run(words, args);
  tally[code === 0 ? "passed" : "failed"]++;
  say(`${code === 0 ? "ok" : "FAILED"}  ${words}, ${((Date.now() - began) / 1000).toFixed(0)} s`);
}

async function unitTests(...also) {
  const report = inRoot(".build", "unit.json");
  rmSync(report, { force: true });
  const code = await run("unit tests", [
    bin("vitest", "vitest.mjs"),
    "run",
    "--reporter=dot",
    "--reporter=json",
    `--outputFile.json=${report}`,
    ...also,
  ]);
  const { numPassedTests: passed = 0, numFailedTests: failed = 0 } = existsSync(report)
    ? JSON.parse(readFileSync(report, "utf8"))
    : {};
  tally.passed += passed;
  tally.failed += failed || (code === 0 ? 0 : 1);
}

/** Specs that listen to time, wait for work in the background, or take the studio down: one test after the other. */
const ALONE = ["programme", "repairing", "resilience", "slice"];
/** Specs that need no studio: they take what of the machine those leave. The rest run two at a time. */
const BESIDE = ["cli"];

async function endToEnd(address, environment) {
  const asked = process.argv.slice(3);
  if (asked.length > 0) return drive(asked, address, environment);
  const names = readdirSync(inRoot("tests"))
    .filter((name) => name.endsWith(".spec.ts"))
    .map((name) => name.replace(".spec.ts", ""));
  const files = (list) => list.map((name) => `tests/${name}.spec.ts`);
  const rest = names.filter((name) => !ALONE.includes(name) && !BESIDE.includes(name));
  await drive(["--workers=2", ...files(rest)], address, environment);
  await Promise.all([
    drive(files(ALONE), address, environment),
    drive([`--output=${inRoot(".build", "test-results-beside")}`, ...files(BESIDE)], address, environment, "beside"),
  ]);
}

async function drive(args, address, environment, beside = "") {
  const report = inRoot(".build", `end-to-end${beside && `-${beside}`}.json`);
  rmSync(report, { force: true });
  const code = await run(
    "end to end",
    [bin("@playwright", "test", "cli.js"), "test", "--reporter=list,json", ...args],
    {
      ...environment,
      RESONUM_TEST_ADDRESS: address,
      PLAYWRIGHT_JSON_OUTPUT_NAME: report,
    },
    beside !== "",
  );
  const {
    expected = 0,
    flaky = 0,
    unexpected = 0,
  } = existsSync(report) ? JSON.parse(readFileSync(report, "utf8")).stats : {};
  tally.passed += expected + flaky;
  tally.failed += unexpected || (code === 0 ? 0 : 1);
}

function verdict() {
  console.log(`${tally.passed} passed, ${tally.failed} failed`);
  return tally.failed === 0 && tally.passed > 0 ? 0 : 1;
}

/** Without those that hold figures: under a minute. */
export async function testUnits() {
  mkdirSync(inRoot(".build"), { recursive: true });
  await unitTests("--project", "unit");
  return verdict();
}

/** A studio of its own for the tests, on an empty data folder. */
export async function withStudio(work) {
  const dataFolder = inRoot(".build", "test-data");
  const account = studioAccount(dataFolder);
  const database = await startPostgres(dataFolder, account);
  const receivers = await startReceivers(join(dataFolder, "receivers"), account);
  const forTools = {
    RESONUM_DATABASE_URL: database.url,
    RESONUM_DATABASE_FOLDER: database.folder,
    RESONUM_DATA: dataFolder,
    RESONUM_LOG: "error",
    RESONUM_CHECK_ANSWERS: "yes",
    RESONUM_STILL_SECONDS: "3",
    ...receivers.environment,
  };
  const environment = { ...forTools, HOME: dataFolder };
  const forTests = { ...forTools, RESONUM_TEST_CLUSTER: database.folder };
  const port = await freePort();
  const address = `http://127.0.0.1:${port}`;
  const web = startWeb(port, environment, false, account);
  const workers = startWorkers(environment, WORKERS, account);
  try {
    await untilAnswering(address);
    await work(address, forTests, { web, workers });
  } finally {
    await Promise.all([web.stop(), receivers.stop(), ...workers.map((worker) => worker.stop())]);
    await database.stop();
  }
}

/** Only the tests that drive the application; what follows `--` goes to Playwright. */
export async function testEndToEnd() {
  discardData(inRoot(".build", "test-data"));
  await buildBundles();
  await buildWeb();
  await withStudio(endToEnd);
  return verdict();
}

export async function testAll() {
  const began = Date.now();
  const stage = (words) => say(`${((Date.now() - began) / 1000).toFixed(0).padStart(5)} s  ${words} …`);
  discardData(inRoot(".build", "test-data"));
  mkdirSync(inRoot(".build"), { recursive: true });
  stage("types, lint and format, while the application is built");
  await buildBundles();
  const built = buildWeb().catch((error) => error);
  await check("format", [bin("oxfmt", "bin", "oxfmt"), "--check", "."]);
  await check("types, part by part", [bin("typescript-native", "bin", "tsc"), "-b", "tsconfig.build.json"]);
  await check("walls, no circles, no lost promises, accessibility", [
    ...[bin("oxlint", "bin", "oxlint"), "-c", "oxlint.config.mjs", "."],
  ]);
  const failed = await built;
  stage("unit, component and integration tests");
  await unitTests();
  try {
    if (failed) throw failed;
    stage("reliability in small");
    // Kills and damaged files in a small form; `npm run bench -- reliability` is the large one.
    await check("nothing lost by kills, nothing raw of damaged files", [
      await buildBench("reliability/main"),
      ...["kills", "8", "files", "40"],
    ]);
    stage("the application in Chromium");
    await withStudio(endToEnd);
  } catch (error) {
    say(error.message);
    tally.failed++;
  }
  say(`All in ${((Date.now() - began) / 1000).toFixed(0)} s.`);
  return verdict();
}
