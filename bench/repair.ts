/** Every repair on clean speech and music that was spoilt, beside the best setting of each peer for that clip. */
import { learnNoiseProfile } from "@core/repair/noise-profile";
import { newRepairStep, repairNamed, repairSettings } from "@core/repair";
import { repairedSource } from "@core/repair/repaired-source";
import { clicked, clippedAt, drifting, f1, meanPower, mixed, sdrOnCut, siSdr, spiked } from "@core/testing/degraded";
import { memoryFrames } from "@core/testing/signals";
import { clips, median, RATE, type Clip } from "./clips";
import { changing } from "./changing";
import { noise } from "./noise";
import { room } from "./room";
import { bestOf, ffmpeg, print, repaired, settings, type Row, type Ways } from "./peers";

async function hum(all: Clip[]): Promise<void> {
  const rows: Row[] = [];
  for (const kind of ["speech", "music"] as const) {
    const harmonics: Row = { what: `hum, ${kind}`, ours: [], peers: { "notch cascade": [] } };
    const tone: Row = { what: `ringing tone, ${kind}`, ours: [], peers: {} };
    for (const { clean } of all.filter((clip) => clip.kind === kind)) {
      const spoilt = mixed(clean, drifting(clean.length, RATE, 50, 12, 0.2, 3), 10);
      const score = (made: Float32Array) => siSdr(made, clean);
      harmonics.ours.push(score(await repaired(spoilt, "hum")));
      const notches = Array.from({ length: 12 }, (_, h) => `bandreject=f=${50 * (h + 1)}:width_type=h:w=`);
      const cascade: Ways = Object.fromEntries(
        [1, 2, 4].map((width) => [String(width), ffmpeg(notches.map((notch) => notch + width).join(","))]),
      );
      harmonics.peers["notch cascade"]!.push(await bestOf(cascade, spoilt, clean, score));
      const ringing = mixed(clean, drifting(clean.length, RATE, 3140, 1, 0, 3), 10);
      tone.ours.push(score(await repaired(ringing, "tones", { learned: [3140] })));
    }
    rows.push(harmonics, tone);
  }
  print("Hum and tones 10 dB below: SI-SDR, dB (wanted 40 on speech, 25 on music, tone 50)", rows);
}

async function clicks(all: Clip[]): Promise<void> {
  const rows: Row[] = [];
  for (const [type, which, perSecond] of [
    ["clicks", "sharp", 2],
    ["clicks", "sharp", 30],
    ["clicks", "sharp", 100],
    ["mouth-noise", "ringing", 3],
  ] as const) {
    const row: Row = { what: `${which}, ${perSecond} a second`, ours: [], peers: { adeclick: [] } };
    const found: Row = { what: `  F1 × 100`, ours: [], peers: {} };
    for (const { clean } of all.filter(({ kind }) => which === "sharp" || kind === "speech")) {
      const { spoilt, places } = clicked(clean, RATE, perSecond, which, 5);
      const score = (made: Float32Array) => siSdr(made, clean);
      row.ours.push(score(await repaired(spoilt, type)));
      row.peers["adeclick"]!.push(
        await bestOf(settings("adeclick", ["t=2", "t=4", "t=8", "t=20"]), spoilt, clean, score),
      );
      const place = { first: 0, from: 0, to: spoilt.length, heldFrom: 0, heldTo: spoilt.length };
      const find = repairNamed(type).find!(repairSettings(newRepairStep(type, "")), undefined, {
        sampleRate: RATE,
        channels: 1,
      });
      found.ours.push(100 * f1(places, find([spoilt], place), RATE));
    }
    rows.push(row, found);
  }
  const find = repairNamed("clicks").find!(repairSettings(newRepairStep("clicks", "")), undefined, {
    sampleRate: RATE,
    channels: 1,
  });
  let [false_, seconds] = [0, 0];
  for (const { clean } of all) {
    false_ += find([clean], { first: 0, from: 0, to: clean.length, heldFrom: 0, heldTo: clean.length }).length;
    seconds += clean.length / RATE;
  }
  print("Clicks: SI-SDR, dB (wanted 31 sparse, 22 dense, 30 mouth; F1 0.95)", rows);
  console.log(`  in clean sound: ${((60 * false_) / seconds).toFixed(1)} a minute (wanted at most 1)`);
}

async function clipping(all: Clip[]): Promise<void> {
  const rows: Row[] = [];
  for (const share of [0.01, 0.05]) {
    const row: Row = { what: `${100 * share} % of the samples`, ours: [], peers: { adeclip: [] } };
    let [took, sounded] = [0, 0];
    for (const { clean: whole } of all) {
      const clean = whole.subarray(0, 2 * RATE);
      const { spoilt, level, cut } = clippedAt(clean, share);
      const score = (made: Float32Array) => sdrOnCut(made, clean, cut);
      const began = performance.now();
      row.ours.push(score(await repaired(spoilt, "clipping", { levelDbfs: 20 * Math.log10(level), leastRun: 1 })));
      took += (performance.now() - began) / 1000;
      sounded += clean.length / RATE;
      row.peers["adeclip"]!.push(
        await bestOf(settings("adeclip", ["t=10", "t=5", "a=20:n=2000", "w=100:o=75"]), spoilt, clean, score),
      );
    }
    row.what += `, ${(sounded / took).toFixed(2)}× real time`;
    rows.push(row);
  }
  print("Clipping: SDR on the samples that were cut, dB (wanted 2 above adeclip)", rows);
}

/** Low speech with thumps; the line at the highest peak of the speech. */
async function spikes(all: Clip[]): Promise<void> {
  const row: Row = { what: "20 dB above low speech", ours: [], peers: { alimiter: [] } };
  for (const { clean: loud } of all.filter(({ kind }) => kind === "speech")) {
    const clean = loud.map((v) => 0.1 * v);
    const spoilt = spiked(clean, RATE, 4);
    const peak = clean.reduce((most, v) => Math.max(most, Math.abs(v)), 0);
    const score = (made: Float32Array) => siSdr(made, clean);
    row.ours.push(score(await repaired(spoilt, "spikes", { thresholdDbfs: 20 * Math.log10(peak) })));
    // It has no lower limit than a sixteenth of full scale.
    const limiters = [1, 0.7, 0.5].flatMap((share) =>
      [
        [1, 20],
        [5, 50],
      ].map(
        ([attack, release]) =>
          `volume=10,alimiter=limit=${(10 * share * peak).toFixed(5)}:attack=${attack}:release=${release}:level=0,volume=0.1`,
      ),
    );
    const ways: Ways = Object.fromEntries(limiters.map((filter) => [filter, ffmpeg(filter)]));
    row.peers["alimiter"]!.push(await bestOf(ways, spoilt, clean, score));
  }
  print("Spikes: SI-SDR, dB (wanted 20)", [row]);
}

/** Multiples of real time on one core, stereo, 30 s through the same reading as a render. */
async function speed(all: Clip[]): Promise<void> {
  console.log("\nSpeed, stereo 48 kHz, one thread, medians of 5 (wanted: noise 40×, hum 40×, clicks 20×)");
  const sides = (["speech", "music"] as const).map((kind) => all.find((clip) => clip.kind === kind)!.clean);
  const frames = 30 * RATE;
  const block = sides.map((x) => Float32Array.from({ length: frames }, (_, i) => x[i % x.length]!));
  const learned = learnNoiseProfile(
    block.map((x) => x.subarray(0, RATE)),
    RATE,
  );
  const level = meanPower(block[0]!);
  for (const [name, type, change] of [
    ["noise, learned", "noise", { learned }],
    ["noise, followed", "noise", {}],
    ["hum", "hum", {}],
    ["one tone", "tones", { learned: [3140] }],
    ["clicks", "clicks", {}],
    ["mouth noise", "mouth-noise", {}],
    ["room", "reverberation", {}],
    ["changing noise", "speech-denoise", {}],
    ["spikes", "spikes", { thresholdDbfs: 10 * Math.log10(level) + 6 }],
  ] as const) {
    const times = [];
    for (let run = 0; run < 6; run++) {
      const source = repairedSource(memoryFrames(block, RATE), [{ ...newRepairStep(type, ""), ...change }], {
        content: "",
      });
      const began = performance.now();
      for (let at = 0; at < frames; at += 4096) await source.read(at, 4096);
      // The first run compiles.
      if (run > 0) times.push((performance.now() - began) / 1000);
    }
    console.log(`  ${name.padEnd(18)} ${(30 / median(times)).toFixed(0)}×`);
  }
}

const all = clips();
console.log(
  `${all.filter(({ kind }) => kind === "speech").length} clips of speech, ${all.filter(({ kind }) => kind === "music").length} of music`,
);
const parts = { speed, noise, changing, hum, clicks, clipping, room, spikes };
const asked = process.argv.slice(2).filter((arg) => !arg.startsWith("--"));
for (const [name, part] of Object.entries(parts)) if (asked.length === 0 || asked.includes(name)) await part(all);
