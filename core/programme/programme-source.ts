/**
 * The whole as one source: items at their places, faded, at their gain, under them the lanes. Any block can be read by
 * itself, and is the same bits wherever reading began, as long as those of the items are.
 */
import { dbToGain } from "../audio/decibel";
import type { FrameSource } from "../audio/frame-source";
import { envelopeAt } from "../parameters/breakpoints";
import type { Breakpoint } from "../parameters/parameter";
import { emptyPlanar, framesOf, type Frames, type Hertz, type Planar } from "../audio/units";
import { DuckingGain } from "./ducking";
import { fadeGain, type Fade } from "./fade";
import { placementOf, type Placeable, type Placement } from "./placement";
import { audibleLanes, ORDER, type Lane } from "./programme";
import type { PlacedItem, Timeline } from "./timeline";

/** Gains that follow a line are worked out at every so many frames, and straight between. */
const GRID: Frames = 64;

/** An item's sound at its place. */
export interface Voice {
  placed: Pick<PlacedItem, "start" | "end" | "lane">;
  placement: Pick<Placement, "fadeIn" | "fadeOut" | "gainDb" | "envelope">;
  /** At the programme's rate and in its channels. */
  source: FrameSource;
}

/** Multiplies gains of the frames from `from` on by a line of dB, whose times are seconds. Straight between grid frames. */
function multiplyByLine(gains: Float64Array, line: readonly Breakpoint[], from: Frames, sampleRate: Hertz): void {
  const at = (frames: Frames) => dbToGain(envelopeAt(line, frames / sampleRate));
  let node = Math.floor(from / GRID) * GRID;
  let [gain, next] = [at(node), at(node + GRID)];
  for (let i = 0; i < gains.length; i++) {
    const frame = from + i;
    if (frame >= node + GRID) {
      node += GRID;
      [gain, next] = [next, at(node + GRID)];
    }
    gains[i]! *= gain + ((next - gain) * (frame - node)) / GRID;
  }
}

/** Amplitude of a fade at a distance from the item's end that it belongs to. */
function fadedAt(fade: Fade, distance: Frames, sampleRate: Hertz): number {
  const inset = Math.round(fade.insetSeconds * sampleRate);
  const length = Math.round(fade.seconds * sampleRate);
  return fadeGain(fade, (distance - inset + 0.5) / length);
}

/** Frames from an end of an item after which its fade is over. */
const reachOf = (fade: Fade | undefined, sampleRate: Hertz): Frames =>
  fade ? Math.round(fade.insetSeconds * sampleRate) + Math.round(fade.seconds * sampleRate) : 0;

/** Adds a block at a frame of `out`, at one gain or at one for each frame. */
function addBlock(out: Planar, block: Planar, gains: Float64Array | number = 1, at: Frames = 0): void {
  for (let c = 0; c < out.length; c++) {
    const y = block[c]!;
    const x = out[c]!.subarray(at, at + y.length);
    if (typeof gains !== "number") addAtGains(x, y, gains);
    else if (gains === 1) addSamples(x, y);
    else addAtGain(x, y, gains);
  }
}

// Loops of their own: each is compiled for its kinds of numbers alone.

function addSamples(x: Float32Array, y: Float32Array): void {
  for (let i = 0; i < y.length; i++) x[i]! += y[i]!;
}

function addAtGain(x: Float32Array, y: Float32Array, gain: number): void {
  for (let i = 0; i < y.length; i++) x[i]! += y[i]! * gain;
}

function addAtGains(x: Float32Array, y: Float32Array, gains: Float64Array): void {
  for (let i = 0; i < y.length; i++) x[i]! += y[i]! * gains[i]!;
}

/** Adds what is heard of a voice in `out`, which begins at frame `start` of the programme. */
async function addVoice(out: Planar, start: Frames, voice: Voice, sampleRate: Hertz): Promise<void> {
  const { placed, source } = voice;
  const from = Math.max(start, placed.start);
  const to = Math.min(start + framesOf(out), placed.end);
  const block = await source.read(from - placed.start, to - from);
  addBlock(out, block, voiceGains(voice, from, to, sampleRate), from - start);
}

/** Gains of frames `from` to `to` of the programme; one where they are the item's level throughout. */
function voiceGains({ placed, placement }: Voice, from: Frames, to: Frames, sampleRate: Hertz): Float64Array | number {
  const { fadeIn, fadeOut, gainDb, envelope } = placement;
  const level = dbToGain(gainDb);
  const risen = Math.min(to, placed.start + reachOf(fadeIn, sampleRate));
  const falls = Math.max(from, placed.end - reachOf(fadeOut, sampleRate));
  if (from >= risen && to <= falls && envelope.length === 0) return level;
  const gains = new Float64Array(to - from).fill(level);
  if (envelope.length > 0) multiplyByLine(gains, envelope, from - placed.start, sampleRate);
  if (fadeIn)
    for (let frame = from; frame < risen; frame++)
      gains[frame - from]! *= fadedAt(fadeIn, frame - placed.start, sampleRate);
  if (fadeOut)
    for (let frame = falls; frame < to; frame++)
      gains[frame - from]! *= fadedAt(fadeOut, placed.end - 1 - frame, sampleRate);
  return gains;
}

type Whole = Pick<Timeline, "sampleRate" | "layout" | "frames">;

/** A source as long as the whole: silence, and what `add` puts into each block. */
function summing(
  { sampleRate, layout, frames }: Whole,
  add: (out: Planar, start: Frames) => Promise<void>,
): FrameSource {
  const channels = layout.speakers.length;
  return {
    sampleRate,
    channels,
    frames,
    async read(start, count) {
      const out = emptyPlanar(channels, Math.max(0, Math.min(frames, start + count) - start));
      await add(out, start);
      return out;
    },
  };
}

/** The sum of voices, silent where there is none. */
export function voicesSource(voices: readonly Voice[], whole: Whole): FrameSource {
  const sorted = [...voices].sort((a, b) => a.placed.start - b.placed.start);
  return summing(whole, async (out, start) => {
    for (const voice of sorted) {
      if (voice.placed.start >= start + framesOf(out)) break;
      if (voice.placed.end > start) await addVoice(out, start, voice, whole.sampleRate);
    }
  });
}

export interface ProgrammeParts {
  timeline: Timeline;
  items: readonly Placeable[];
  lanes: readonly Omit<Lane, "name">[];
  /** Opens an item after its repairs, cuts and chain, at the programme's rate and in its channels; each reads by itself. */
  openItem: (id: string) => FrameSource;
  /** A lane after its chain; `keys` are those that it carries behind its own channels, by name. */
  processed: (lane: FrameSource, chain: Lane["chain"], keys: readonly string[]) => FrameSource;
}

/** Lanes that processors of a lane's chain listen to: others of the programme, each once. */
function keysOf({ id, chain }: Pick<Lane, "id" | "chain">, lanes: readonly Pick<Lane, "id">[]): string[] {
  const there = new Set([ORDER, ...lanes.map((lane) => lane.id)]);
  const keys = chain.flatMap(({ key, bypass }) => (key === undefined || bypass ? [] : [key]));
  return [...new Set(keys)].filter((key) => key !== id && there.has(key));
}

/** Channels of all, the one's behind the other's. */
const besides = (sources: readonly FrameSource[], { sampleRate, frames, layout }: Whole): FrameSource => ({
  sampleRate,
  frames,
  channels: sources.length * layout.speakers.length,
  read: async (start, count) => (await Promise.all(sources.map((source) => source.read(start, count)))).flat(),
});

/** Gains of a lane at frames of the programme; one where its level stays. */
function laneGains(
  { gainDb, envelope }: Pick<Lane, "gainDb" | "envelope">,
  start: Frames,
  length: Frames,
  sampleRate: Hertz,
  ducked: Float64Array | undefined,
): Float64Array | number {
  const level = dbToGain(gainDb);
  if (envelope.length === 0 && !ducked) return level;
  const gains = new Float64Array(length).fill(level);
  if (envelope.length > 0) multiplyByLine(gains, envelope, start, sampleRate);
  if (ducked) for (let i = 0; i < length; i++) gains[i]! *= ducked[i]!;
  return gains;
}

/** Everything but the programme's own chain. A ducker hears the lanes that it yields to as they are before their chains. */
export function programmeSource({ timeline, items, lanes, openItem, processed }: ProgrammeParts): FrameSource {
  const { sampleRate } = timeline;
  const placements = new Map(items.map((item) => [item.id, placementOf(item)]));
  const sumOf = (placed: readonly PlacedItem[]): FrameSource =>
    voicesSource(
      placed.map((one) => ({ placed: one, placement: placements.get(one.item)!, source: openItem(one.item) })),
      timeline,
    );
  const laneSum = (id: string): FrameSource =>
    sumOf(id === ORDER ? timeline.order : timeline.onLanes.filter(({ lane }) => lane === id));
  const order = laneSum(ORDER);
  const heard = audibleLanes(lanes)
    .filter(({ id }) => timeline.onLanes.some(({ lane }) => lane === id))
    .map((lane) => {
      const sum = laneSum(lane.id);
      const keys = keysOf(lane, lanes);
      const carried = keys.length > 0 ? besides([sum, ...keys.map(laneSum)], timeline) : sum;
      const yieldsTo = lane.ducker?.yieldsTo.filter((other) => other !== lane.id) ?? [];
      return {
        lane,
        sound: lane.chain.some(({ bypass }) => !bypass) ? processed(carried, lane.chain, keys) : sum,
        // Read ahead of what is heard, by readers of its own.
        ducking: lane.ducker && new DuckingGain(lane.ducker, summed(yieldsTo.map(laneSum), timeline), sampleRate),
      };
    });
  if (heard.length === 0) return order;
  const onlyLanes = lanes.some(({ solo }) => solo);
  return summing(timeline, async (out, start) => {
    const length = framesOf(out);
    if (!onlyLanes) addBlock(out, await order.read(start, length));
    for (const { lane, sound, ducking } of heard) {
      const block = await sound.read(start, length);
      const ducked = await ducking?.read(start, length);
      addBlock(out, block, laneGains(lane, start, length, sampleRate, ducked));
    }
  });
}

/** Sources of one length, added up. */
const summed = (sources: readonly FrameSource[], whole: Whole): FrameSource =>
  summing(whole, async (out, start) => {
    for (const source of sources) addBlock(out, await source.read(start, framesOf(out)));
  });
