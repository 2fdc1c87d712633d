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

/** Gain of a line of dB at a frame; the line's times are seconds. Straight between the frames of a grid. */
function lineGain(line: readonly Breakpoint[], frame: Frames, sampleRate: Hertz): number {
  const node = Math.floor(frame / GRID) * GRID;
  const at = (frames: Frames) => dbToGain(envelopeAt(line, frames / sampleRate));
  const [from, to] = [at(node), at(node + GRID)];
  return from + ((to - from) * (frame - node)) / GRID;
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

/** Adds what is heard of a voice in `out`, which begins at frame `start` of the programme. */
async function addVoice(out: Planar, start: Frames, voice: Voice, sampleRate: Hertz): Promise<void> {
  const { placed, placement, source } = voice;
  const from = Math.max(start, placed.start);
  const to = Math.min(start + framesOf(out), placed.end);
  if (to <= from) return;
  const block = await source.read(from - placed.start, to - from);
  const gains = voiceGains(voice, from, to, sampleRate);
  const level = dbToGain(placement.gainDb);
  out.forEach((x, c) => {
    const y = block[c]!;
    for (let i = 0; i < y.length; i++) x[from - start + i]! += y[i]! * (gains ? gains[i]! : level);
  });
}

/** Gains of frames `from` to `to` of the programme; `null` where they are the item's level throughout. */
function voiceGains({ placed, placement }: Voice, from: Frames, to: Frames, sampleRate: Hertz): Float64Array | null {
  const { fadeIn, fadeOut, gainDb, envelope } = placement;
  const risen = placed.start + reachOf(fadeIn, sampleRate);
  const falls = placed.end - reachOf(fadeOut, sampleRate);
  if (from >= risen && to <= falls && envelope.length === 0) return null;
  const level = dbToGain(gainDb);
  return Float64Array.from({ length: to - from }, (_, i) => {
    const frame = from + i;
    let gain = level;
    if (envelope.length > 0) gain *= lineGain(envelope, frame - placed.start, sampleRate);
    if (fadeIn && frame < risen) gain *= fadedAt(fadeIn, frame - placed.start, sampleRate);
    if (fadeOut && frame >= falls) gain *= fadedAt(fadeOut, placed.end - 1 - frame, sampleRate);
    return gain;
  });
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

/** Adds a block, at gains where there are any. */
function addBlock(out: Planar, block: Planar, gains?: Float64Array): void {
  out.forEach((x, c) => {
    const y = block[c]!;
    if (gains) for (let i = 0; i < y.length; i++) x[i]! += y[i]! * gains[i]!;
    else for (let i = 0; i < y.length; i++) x[i]! += y[i]!;
  });
}

/** The sum of voices, silent where there is none. */
export function voicesSource(voices: readonly Voice[], whole: Whole): FrameSource {
  const sorted = [...voices].sort((a, b) => a.placed.start - b.placed.start);
  return summing(whole, async (out, start) => {
    for (const voice of sorted) {
      if (voice.placed.start >= start + framesOf(out)) break;
      await addVoice(out, start, voice, whole.sampleRate);
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
      const level = dbToGain(lane.gainDb);
      const gains = Float64Array.from({ length }, (_, i) => {
        const line = lane.envelope.length > 0 ? lineGain(lane.envelope, start + i, sampleRate) : 1;
        return level * line * (ducked ? ducked[i]! : 1);
      });
      addBlock(out, block, gains);
    }
  });
}

/** Sources of one length, added up. */
const summed = (sources: readonly FrameSource[], whole: Whole): FrameSource =>
  summing(whole, async (out, start) => {
    for (const source of sources) addBlock(out, await source.read(start, framesOf(out)));
  });
