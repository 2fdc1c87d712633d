/**
 * A programme of 30 items, two hours and three lanes: how soon it is drawn, how soon a change of it is heard, how fast
 * and in how much memory it is rendered. And recordings of one thing found again, on real music where there is any.
 */
import { join } from "node:path";
import type { FrameSource } from "@core/audio/frame-source";
import { layoutNamed } from "@core/audio/layout";
import { align } from "@core/compare/alignment";
import { fingerprintOf } from "@core/compare/fingerprint";
import { matched } from "@core/compare/matching";
import { mapped, timeMap } from "@core/compare/time-map";
import { renderMaster } from "@core/delivery/render-master";
import { newFormat } from "@core/delivery/recipe";
import { specNamed } from "@core/delivery/specs";
import { newTags } from "@core/files/tags";
import { Random } from "@core/math/random";
import { measureSource } from "@core/measure/measure-source";
import { newFade } from "@core/programme/fade";
import { laneSchema, newDucker, ORDER, PLAIN_PROGRAMME } from "@core/programme/programme";
import { programmeLevels, type ItemLevels } from "@core/programme/programme-levels";
import { programmeSource } from "@core/programme/programme-source";
import { timelineOf } from "@core/programme/timeline";
import type { Placeable } from "@core/programme/placement";
import { steadyNoise } from "@core/testing/degraded";
import { joined, memoryFrames } from "@core/testing/signals";
import { Player } from "@playback/player";
import { ProgrammePlayback, type ProgrammeItem } from "@playback/programme-playback";
import { Ring } from "@playback/ring";
import { MasterFile } from "@server/rendering/master-file";
import { clips, median, RATE, scratch } from "./clips";

const ITEMS = 30;
const LANES = 2;
/** With `--long` what is rendered is two hours, too; else a sixth of it. */
const SECONDS = 7200;
const RENDERED_SHARE = process.argv.includes("--long") ? 1 : 1 / 6;
const RUNS = 7;
const stereo = layoutNamed("stereo")!;

const all = [...clips("reported"), ...clips("tuned")];
const tune = all.find(({ kind }) => kind === "music")!.clean;

/** A long recording without its memory: one clip over and over, a little different each time round. */
function long(seconds: number, gain: number): FrameSource {
  const frames = Math.round(seconds * RATE);
  const once = tune.map((v) => gain * v);
  const read = (start: number, count: number) => {
    const x = new Float32Array(Math.max(0, Math.min(count, frames - start)));
    for (let at = 0; at < x.length;) {
      const from = (start + at) % once.length;
      const part = once.subarray(from, from + x.length - at);
      x.set(part, at);
      at += part.length;
    }
    return Promise.resolve([x, x.slice()]);
  };
  return { sampleRate: RATE, channels: 2, frames, read };
}

const ordered = Array.from({ length: ITEMS }, (_, i): Placeable => ({
  id: `i${i}`,
  placement: { gapSeconds: i % 4 === 3 ? -2 : 1.5, fadeIn: newFade(1), fadeOut: newFade(3), gainDb: (i % 5) - 2 },
}));
const lain = Array.from({ length: LANES * 3 }, (_, i): Placeable => ({
  id: `l${i}`,
  placement: { lane: `lane-${i % LANES}`, anchor: `i${i * 4}`, atSeconds: 20, fadeIn: newFade(2), fadeOut: newFade(2) },
}));
const items = [...ordered, ...lain];
const lanes = Array.from({ length: LANES }, (_, i) =>
  laneSchema.parse({ id: `lane-${i}`, name: `Lane ${i}`, gainDb: -18, ducker: i === 0 ? newDucker([ORDER]) : null }),
);
const itemSeconds = (SECONDS - 40) / ITEMS;
const lengthOf = (id: string) => Math.round((id.startsWith("l") ? 90 : itemSeconds) * RATE);
const renderedLength = (id: string) => Math.round(lengthOf(id) * RENDERED_SHARE);
const formatOf = (id: string) => ({ frames: lengthOf(id), sampleRate: RATE, layout: stereo });
const levels: ItemLevels = {
  momentaryLufs: Float32Array.from({ length: Math.round(itemSeconds * 10) }, (_, i) => -20 + 5 * Math.sin(i / 40)),
  truePeakDbtp: -3,
};

const milliseconds = (work: () => void): number => {
  const times = Array.from({ length: RUNS }, () => {
    const began = performance.now();
    work();
    return performance.now() - began;
  });
  return median(times);
};

function drawing(): void {
  const draw = () => {
    const timeline = timelineOf(items, PLAIN_PROGRAMME, formatOf)!;
    programmeLevels(timeline, items, lanes, () => levels);
  };
  console.log(
    `  times and levels of the whole, as for each move of a drag: ${milliseconds(draw).toFixed(1)} ms (a frame is 16.7)`,
  );
}

async function hearing(): Promise<void> {
  const planOf = (gapSeconds: number) => {
    const placed = items.map((item) =>
      item.id === "i1" ? { ...item, placement: { ...item.placement, gapSeconds } } : item,
    );
    const timeline = timelineOf(placed, PLAIN_PROGRAMME, formatOf)!;
    const played = placed.map((item): ProgrammeItem => ({
      ...item,
      ...formatOf(item.id),
      url: item.id,
      repairs: [],
      clips: null,
      chain: [{ type: "limiter", id: "l", bypass: false, ceilingDbtp: -3 }],
    }));
    return { timeline, items: played, lanes };
  };
  const playback = new ProgrammePlayback(
    (url) => Promise.resolve(long(lengthOf(url) / RATE, 0.5)),
    (source) => source,
  );
  const player = new Player(Ring.create(2), playback.source(planOf(1)), { sampleRate: RATE, layout: stereo });
  await player.seek(Math.round((itemSeconds - 1) * RATE));
  const times: number[] = [];
  for (let run = 0; run < RUNS; run++) {
    const began = performance.now();
    playback.quick = true;
    await player.become(playback.source(planOf(1 + run / 10)), () => times.push(performance.now() - began));
  }
  console.log(
    `  a pause that is changed is written after ${median(times).toFixed(1)} ms, with a limiter on each item (50 wanted, 12 of them ahead)`,
  );
}

async function rendering(): Promise<void> {
  const timeline = timelineOf(items, PLAIN_PROGRAMME, (id) => ({ ...formatOf(id), frames: renderedLength(id) }))!;
  const source = programmeSource({
    timeline,
    items,
    lanes,
    openItem: (id) => long(renderedLength(id) / RATE, id.startsWith("l") ? 0.3 : 0.5),
    processed: (lane) => lane,
  });
  const format = newFormat({ bitDepth: "24" });
  const file = new MasterFile(join(scratch, "programme"), { format, tags: newTags(), cover: null, video: null });
  await import("node:fs/promises").then(({ mkdir }) => mkdir(join(scratch, "programme"), { recursive: true }));
  const began = performance.now();
  const recipe = { repairs: [], chain: [], spec: specNamed("ebu-r128"), format };
  const before = process.memoryUsage().rss;
  const { verdict, attempts } = await renderMaster(
    { source, layout: stereo, sourceBits: null, recipe, tags: newTags() },
    file,
  );
  const seconds = (performance.now() - began) / 1000;
  const grown = (process.memoryUsage().rss - before) / 2 ** 20;
  await file.close();
  const times = timeline.frames / RATE / seconds;
  console.log(
    `  ${(timeline.frames / RATE / 60).toFixed(0)} min, ${ITEMS} items, ${LANES + 1} lanes: ${times.toFixed(0)} × real time with measuring and verifying (30 wanted), ${attempts} passes, ${verdict!.pass ? "passes" : "fails"}, memory grew by ${grown.toFixed(0)} MB`,
  );
}

/** 3 dB lower, a little duller, with noise 20 dB below. */
function remixed(x: Float32Array, seed: number): Float32Array {
  const noise = steadyNoise("hiss", x.length, RATE, seed);
  const [power, noisePower] = [x, noise].map((y) => y.reduce((sum, v) => sum + v * v, 0));
  const gain = 0.1 * Math.sqrt(power! / noisePower!);
  return x.map((v, i) => 0.708 * (0.25 * (x[i - 1] ?? 0) + 0.5 * v + 0.25 * (x[i + 1] ?? 0) + gain * noise[i]!));
}

async function finding(): Promise<void> {
  const music = [...all].sort((a, b) => a.kind.localeCompare(b.kind)).slice(0, 12);
  const open = (x: Float32Array) => memoryFrames([x], RATE);
  let shifts = 0;
  const errors: number[] = [];
  for (const [n, { clean }] of music.entries()) {
    const { shift } = await align(open(clean), open(joined(new Float32Array(12_345), remixed(clean, n)))).catch(() => ({
      shift: NaN,
    }));
    if (shift === 12_345) shifts++;
    const [from, to] = [4.2 * RATE, 6.1 * RATE];
    const map = await timeMap(open(clean), open(remixed(joined(clean.subarray(0, from), clean.subarray(to)), n)));
    const [a, b] = map?.stretches ?? [];
    errors.push(
      a && b && mapped(map!, 2 * RATE) === 2 * RATE
        ? (Math.max(Math.abs(a.end - from), Math.abs(b.start - to)) / RATE) * 1000
        : Infinity,
    );
  }
  const near = errors.filter((error) => error <= 5).length;
  console.log(
    `  a shift of 12,345 samples found exactly in ${shifts} of ${music.length} (3 dB lower, duller, noise 20 dB below)`,
  );
  console.log(
    `  1.9 s cut out found within 5 ms in ${near} of ${music.length}; ms off: ${errors.map((error) => error.toFixed(1)).join(" ")}`,
  );
  const layout = layoutNamed("mono")!;
  const printed = async (x: Float32Array) => fingerprintOf((await measureSource(open(x), layout)).curves);
  const random = new Random(3);
  const earlier = [];
  const later = [];
  for (const [n, { clean }] of music.entries()) {
    const seconds = clean.length / RATE;
    earlier.push({ id: `e${n}`, name: `title ${n}`, seconds, fingerprint: await printed(clean) });
    later.push({
      id: `l${n}`,
      name: "bounce",
      seconds,
      fingerprint: await printed(joined(new Float32Array(12_345), remixed(clean, n))),
    });
  }
  later.sort(() => random.next() - 0.5);
  const right = matched(later, earlier).filter(({ id, of }) => of === `e${id.slice(1)}`).length;
  console.log(`  ${right} of ${music.length} shuffled and renamed recordings matched`);
}

console.log("programme");
drawing();
await hearing();
await finding();
await rendering();
