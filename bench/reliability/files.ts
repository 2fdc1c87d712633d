/** Damaged files through the command line, many at once: each is measured or told of in words, and soon. */
import { spawn } from "node:child_process";
import { execFileSync } from "node:child_process";
import { mkdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { Random } from "@core/math/random";
import { below, mutated } from "@core/testing/damage";

const folder = join(process.cwd(), ".build", "bench", "damaged");
const AT_ONCE = 250;
/** The bound for files of this size: what takes longer is ended by its own limits. */
const BOUND_SECONDS = 10;

/** Of every kind that is taken in; what the core reads itself is quick, the rest goes through ffmpeg. */
const KINDS: readonly { name: string; args: string[]; weight: number }[] = [
  { name: "a.wav", args: ["-c:a", "pcm_s24le"], weight: 8 },
  { name: "a.rf64.wav", args: ["-rf64", "always", "-c:a", "pcm_s16le"], weight: 4 },
  { name: "a.aiff", args: ["-c:a", "pcm_s24be"], weight: 6 },
  { name: "a.flac", args: [], weight: 2 },
  { name: "a.mp3", args: ["-b:a", "128k"], weight: 2 },
  { name: "a.m4a", args: ["-c:a", "aac"], weight: 2 },
  { name: "a.opus", args: ["-c:a", "libopus"], weight: 1 },
  { name: "a.ogg", args: ["-c:a", "libvorbis"], weight: 1 },
  { name: "a.mkv", args: ["-c:a", "flac"], weight: 1 },
  { name: "a.wv", args: ["-c:a", "wavpack"], weight: 1 },
  { name: "a.caf", args: ["-c:a", "pcm_s16be"], weight: 1 },
];

/** Whole files of every kind, each as often as it weighs. */
export function corpus(): { name: string; bytes: Uint8Array }[] {
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  return KINDS.flatMap(({ name, args, weight }) => {
    const path = join(folder, name);
    const sound = ["-f", "lavfi", "-i", "sine=frequency=440:duration=0.7,aformat=channel_layouts=stereo"];
    const tags = ["-metadata", "title=Low Door", "-metadata", "artist=Odda Vane"];
    execFileSync("ffmpeg", ["-v", "error", "-y", ...sound, ...tags, ...args, path]);
    const bytes = new Uint8Array(readFileSync(path));
    rmSync(path);
    return Array.from({ length: weight }, () => ({ name, bytes }));
  });
}

export interface FilesReport {
  files: number;
  measured: number;
  refused: number;
  slowestBatchSecondsAFile: number;
  faults: string[];
}

/** What no person should read. */
const RAW =
  /\[[a-z0-9_,]+ @ 0x|Invalid data found|\/in\d|at .*\.[mt]js|TypeError|RangeError|ZodError|"code":|undefined|NaN\b|Error:/;

export const isSentence = (words: string): boolean => !RAW.test(words);

export async function filesTest(count: number, tell: (words: string) => void): Promise<FilesReport> {
  const kinds = corpus();
  const random = new Random(count);
  const report: FilesReport = { files: 0, measured: 0, refused: 0, slowestBatchSecondsAFile: 0, faults: [] };
  const batch = join(folder, "batch");
  while (report.files < count) {
    rmSync(batch, { recursive: true, force: true });
    mkdirSync(batch);
    const size = Math.min(AT_ONCE, count - report.files);
    for (let n = 0; n < size; n++) {
      const { name, bytes } = kinds[below(random, kinds.length)]!;
      let out = bytes;
      for (let changes = 1 + below(random, 4); changes > 0; changes--) out = mutated(out, random);
      writeFileSync(join(batch, `${String(n).padStart(4, "0")}-${name}`), out);
    }
    const began = Date.now();
    const { stdout, stderr, status } = await measured(batch, size * BOUND_SECONDS);
    const seconds = (Date.now() - began) / 1000 / size;
    report.slowestBatchSecondsAFile = Math.max(report.slowestBatchSecondsAFile, seconds);
    report.files += size;
    judge(stdout, stderr, status, size, report);
    if (report.files % 1000 === 0) tell(`${report.files} files, ${report.faults.length} faults`);
  }
  return report;
}

function measured(batch: string, seconds: number): Promise<{ stdout: string; stderr: string; status: number | null }> {
  const child = spawn(process.execPath, ["bin/resonum", "measure", batch, "--json"], {
    stdio: ["ignore", "pipe", "pipe"],
  });
  let [stdout, stderr] = ["", ""];
  child.stdout.on("data", (chunk: Buffer) => (stdout += chunk.toString()));
  child.stderr.on("data", (chunk: Buffer) => (stderr += chunk.toString()));
  const timer = setTimeout(() => child.kill("SIGKILL"), seconds * 1000);
  return new Promise((resolve) =>
    child.on("close", (status) => {
      clearTimeout(timer);
      resolve({ stdout, stderr, status });
    }),
  );
}

/** What is told of a file: figures, or why there are none. */
interface Told {
  error?: string;
}

function judge(stdout: string, stderr: string, status: number | null, size: number, report: FilesReport): void {
  const fault = (words: string) => void (report.faults.length < 30 && report.faults.push(words));
  if (status === null) fault("A batch took longer than its bound and was ended.");
  if (RAW.test(stderr)) fault(`Raw words: ${stderr.slice(0, 300)}`);
  let told: Told[];
  try {
    told = Object.values(JSON.parse(stdout) as Record<string, Told>);
  } catch {
    return fault(`No table came of a batch: ${stderr.slice(0, 200)}`);
  }
  if (told.length !== size) fault(`${size} files gave ${told.length} rows.`);
  for (const { error } of told) {
    if (error === undefined) report.measured++;
    else {
      report.refused++;
      if (!isSentence(error) || !/^[A-Z“].{15,}\.$/s.test(error)) fault(`No sentence: ${error}`);
    }
  }
}
