/**
 * What encoding adds to true peaks, told by the loudest excerpts, against the whole; and how often a limited master is
 * encoded until it is inside. Run by `npm run bench -- deliver lossy`.
 */
import { mkdirSync } from "node:fs";
import { join } from "node:path";
import { layoutForChannels } from "@core/audio/layout";
import type { Planar } from "@core/audio/units";
import { overshootAt } from "@core/delivery/encoding-overshoot";
import type { MasterJob } from "@core/delivery/master-job";
import { measureOvershoot } from "@core/delivery/measure-overshoot";
import { newFormat, type MasterFormat } from "@core/delivery/recipe";
import { renderMaster } from "@core/delivery/render-master";
import { planOf } from "@core/delivery/render-plan";
import { specNamed } from "@core/delivery/specs";
import { measureFile } from "@core/delivery/verify-master";
import { writeMaster } from "@core/delivery/write-master";
import { newTags } from "@core/files/tags";
import { Measurer } from "@core/measure";
import { memoryFrames } from "@core/testing/signals";
import { MasterFile } from "@server/rendering/master-file";
import { clips, median, RATE, scratch, type Clip } from "./clips";

const FORMATS = [
  newFormat({ container: "mp3", bitrateKbps: 128 }),
  newFormat({ container: "mp3", bitrateKbps: 192 }),
  newFormat({ container: "m4a", bitrateKbps: 128 }),
  newFormat({ container: "opus", bitrateKbps: 96 }),
];
const DEPTHS_DB = [0, 3, 5, 8];
const CEILING_DBTP = -1;
/** So far the level is brought over what fits under the ceiling. */
const DRIVEN_DB = 4;
const tags = newTags({ title: "Bench" });

const FADE_FRAMES = 0.05 * RATE;

/** A joint that is a step would be answered by the encoder as no music is. */
const faded = (x: Float32Array): Float32Array =>
  x.map((v, i) => v * Math.min(1, i / FADE_FRAMES, (x.length - i) / FADE_FRAMES));

/** All clips of a kind one after the other, so that excerpts are a part of it. */
function joinedClips(all: readonly Clip[]): Planar {
  const joined = Float32Array.from(all.flatMap(({ clean }) => [...faded(clean)]));
  return [joined, joined.map((_, i) => 0.9 * (joined[i - 11] ?? 0))];
}

let made = 0;
function fileFor(format: MasterFormat): MasterFile {
  const folder = join(scratch, `lossy-${made++}`);
  mkdirSync(folder);
  return new MasterFile(folder, { format, tags, cover: null, video: null });
}

async function judge(name: string, block: Planar, format: MasterFormat): Promise<number[]> {
  const layout = layoutForChannels(block.length);
  const measurer = new Measurer({ sampleRate: RATE, layout });
  measurer.process(block);
  const known = measurer.result();
  const job: MasterJob = {
    source: memoryFrames(block, RATE),
    layout,
    sourceBits: null,
    tags,
    recipe: { repairs: [], chain: [], format },
    known,
  };
  const [plan, file] = [planOf(job), fileFor(format)];
  const excerpts = (await measureOvershoot(plan, known.curves, file))!;
  const errors: number[] = [];
  for (const depth of DEPTHS_DB) {
    const settings = {
      gainDb: CEILING_DBTP - known.figures.truePeakDbtp! + depth,
      limiterCeilingDbtp: depth > 0 ? CEILING_DBTP : null,
      levelling: null,
    };
    await writeMaster(plan, settings, file, {});
    await file.encode!();
    const { figures } = await measureFile(await file.readBack(), layout);
    errors.push(figures.truePeakDbtp! - CEILING_DBTP - overshootAt(excerpts, depth));
  }
  const streaming = specNamed("streaming-14")!;
  const spec = {
    ...streaming,
    id: "driven",
    target: known.figures.integratedLufs! + CEILING_DBTP - known.figures.truePeakDbtp! + DRIVEN_DB,
    limits: streaming.limits.filter(({ figure }) => figure === "truePeakDbtp"),
  };
  const { attempts, figures } = await renderMaster({ ...job, recipe: { ...job.recipe, spec } }, file);
  await file.close();
  console.log(
    `  ${name.padEnd(8)}${`${format.container} ${format.bitrateKbps} kbit/s`.padEnd(18)}over ${excerpts.overshootDb.map((over) => over.toFixed(2)).join(" / ")} dB at 0 / 3 / 8 dB of limiting; ` +
      `the whole differs by ${errors.map((error) => error.toFixed(2)).join(" / ")} dB at ${DEPTHS_DB.join(" / ")}; ` +
      `driven ${DRIVEN_DB} dB: encoded whole ${attempts} times, ${figures.truePeakDbtp!.toFixed(2)} dBTP`,
  );
  return errors.map(Math.abs);
}

export async function lossy(): Promise<void> {
  const all = clips();
  console.log("\nWhat encoding adds to true peaks, told by eight seconds, against the whole:");
  const errors: number[] = [];
  for (const kind of ["speech", "music"] as const)
    for (const format of FORMATS)
      errors.push(...(await judge(kind, joinedClips(all.filter((clip) => clip.kind === kind)), format)));
  console.log(`  off by ${median(errors).toFixed(2)} dB (median), ${Math.max(...errors).toFixed(2)} at most`);
}
