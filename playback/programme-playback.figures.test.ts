import { describe, expect, it } from "vitest";
import type { FrameSource } from "@core/audio/frame-source";
import { layoutNamed } from "@core/audio/layout";
import { framesOf, type Planar } from "@core/audio/units";
import type { ChainEntry } from "@core/processors";
import { newFade } from "@core/programme/fade";
import type { StoredPlacement } from "@core/programme/placement";
import { laneSchema, newDucker, ORDER, PLAIN_PROGRAMME, type Lane } from "@core/programme/programme";
import { timelineOf } from "@core/programme/timeline";
import { programmeSound } from "@core/project/programme-sound";
import { processedSource } from "@core/render/processed-source";
import { joined, memoryFrames, noise, sine } from "@core/testing/signals";
import { Player } from "./player";
import { ProgrammePlayback, type ProgrammeItem, type ProgrammePlan } from "./programme-playback";
import { Ring } from "./ring";

const RATE = 48_000;
const stereo = layoutNamed("stereo")!;
const QUANTUM = 128;
const LIMITED: ChainEntry[] = [
  { type: "gain", id: "g", bypass: false, gainDb: 9 },
  { type: "limiter", id: "l", bypass: false, ceilingDbtp: -9 },
];

interface Part {
  id: string;
  block: Planar;
  chain?: ChainEntry[];
  placement?: StoredPlacement;
}

function planOf(parts: Part[], lanes: Lane[] = []): ProgrammePlan {
  const items = parts.map(({ id, block, chain = [], placement }): ProgrammeItem => ({
    id,
    url: id,
    layout: stereo,
    sampleRate: RATE,
    frames: framesOf(block),
    repairs: [],
    clips: null,
    chain,
    placement,
  }));
  const formatOf = (id: string) => items.find((item) => item.id === id)!;
  return { timeline: timelineOf(items, PLAIN_PROGRAMME, formatOf)!, items, lanes };
}

/** Hears a programme as the audio thread does. */
async function listening(parts: Part[], plan: ProgrammePlan) {
  const files = new Map(parts.map(({ id, block }) => [id, memoryFrames(block, RATE)]));
  const opened: string[] = [];
  const playback = new ProgrammePlayback(
    (url) => {
      opened.push(url);
      return Promise.resolve(files.get(url)!);
    },
    (source) => source,
  );
  const ring = Ring.create(2);
  const player = new Player(ring, playback.source(plan), { sampleRate: RATE, layout: stereo });
  const heard: Float32Array[] = [];
  const hear = async (frames: number): Promise<void> => {
    for (let done = 0; done < frames; done += QUANTUM) {
      if (ring.ahead < QUANTUM) throw new Error("underrun");
      const out = new Float32Array(QUANTUM);
      ring.take(0, ring.read, out);
      heard.push(out);
      ring.advance(QUANTUM);
      if (done % 1024 === 0) await player.pump();
    }
  };
  const start = async (frame = 0): Promise<void> => {
    await player.seek(frame);
    await player.pump();
    ring.playing = true;
  };
  return { player, playback, hear, start, opened, left: () => joined(...heard) };
}

function rendered(parts: Part[], { timeline, items, lanes }: ProgrammePlan): FrameSource {
  const chains = new Map(items.map(({ id, chain }) => [id, chain]));
  const inputs = {
    ...timeline,
    items: items.map(({ id, placement }) => ({ id, render: { layout: stereo }, placement })),
    lanes,
  };
  return programmeSound(inputs as never, (id) =>
    processedSource(
      memoryFrames(parts.find((part) => part.id === id)!.block, RATE),
      { repairs: [], chain: chains.get(id)! },
      stereo,
    ),
  );
}

const pair = (seconds: number, seed: number): Planar => [
  noise(seconds, RATE, -6, seed),
  noise(seconds, RATE, -6, seed + 50),
];
const album: Part[] = [
  { id: "a", block: pair(1, 1), chain: LIMITED, placement: { fadeOut: newFade(0.4) } },
  { id: "b", block: pair(1.5, 2), placement: { gapSeconds: -0.2, fadeIn: newFade(0.2), gainDb: -3 } },
  { id: "c", block: pair(1, 3), chain: LIMITED, placement: { gapSeconds: 0.1 } },
  { id: "bed", block: pair(2, 4), placement: { lane: "l", atSeconds: 1 } },
];
const LANES = [laneSchema.parse({ id: "l", name: "Bed", gainDb: -12, ducker: newDucker([ORDER]) })];

describe("listening to a programme", () => {
  it("gives what a render gives, bit for bit, through all joins", async () => {
    const plan = planOf(album, LANES);
    const { start, hear, left } = await listening(album, plan);
    await start();
    const frames = Math.floor(plan.timeline.frames / QUANTUM) * QUANTUM;
    await hear(frames);
    const [wanted] = await rendered(album, plan).read(0, frames);
    expect(left()).toEqual(wanted);
  });
  it("gives the same from within an item, with its chain's memory as run-up", async () => {
    const plan = planOf(album);
    const { start, hear, left } = await listening(album, plan);
    await start(2.9 * RATE);
    await hear(20_480);
    const [wanted] = await rendered(album, plan).read(2.9 * RATE, 20_480);
    expect(left()).toEqual(wanted);
  });
  it("opens the recordings that it reads, and no others", async () => {
    const { start, opened } = await listening(album, planOf(album));
    await start();
    expect(opened).not.toContain("c");
  });
});

describe("a programme of many items", () => {
  it("keeps few files open, and opens those again that were let go of", async () => {
    const parts = Array.from({ length: 40 }, (_, i): Part => ({ id: `i${i}`, block: pair(0.05, i) }));
    const plan = planOf(parts);
    const { start, opened, playback } = await listening(parts, plan);
    await start();
    const source = playback.source(plan);
    await source.read(0, plan.timeline.frames);
    expect(opened.length).toBeGreaterThanOrEqual(40);
    const before = opened.length;
    await source.read(plan.timeline.frames - 1000, 1000); // still open
    expect(opened.length).toBe(before);
    await source.read(0, 1000);
    expect(opened.length).toBe(before + 1);
  });
});

describe("a change while it plays", () => {
  const tone = (hertz: number): Planar => [sine(hertz, -12, 4, RATE), sine(hertz, -12, 4, RATE)];
  const parts = (gapSeconds: number): Part[] => [
    { id: "a", block: tone(200) },
    { id: "b", block: tone(310), placement: { gapSeconds, fadeIn: newFade(0.05) } },
  ];
  it("of a pause is heard within 50 ms, without a click", async () => {
    const { start, hear, left, player, playback } = await listening(parts(0.5), planOf(parts(0.5)));
    await start(4.05 * RATE); // in the pause
    await hear(2048);
    await player.become(playback.source(planOf(parts(0.05))));
    await hear(9600);
    const x = left();
    const sounds = x.findIndex((v) => Math.abs(v) > 0.01);
    expect(sounds).toBeGreaterThan(2048);
    expect(sounds).toBeLessThan(2048 + 0.05 * RATE);
    const largest = x.reduce((most, v, i) => (i === 0 ? 0 : Math.max(most, Math.abs(v - x[i - 1]!))), 0);
    expect(largest).toBeLessThan(0.25 * 2 * Math.PI * (310 / RATE) * 1.6);
  });
  it("that shortens it stays within it", async () => {
    const long = planOf(parts(2));
    const { start, player, playback, hear } = await listening(parts(2), long);
    await start(long.timeline.frames - RATE / 2);
    await hear(1024);
    await player.become(playback.source(planOf(parts(-3))));
    expect(player.positionAt(player.ring.read)).toBeLessThan(long.timeline.frames);
  });
});
