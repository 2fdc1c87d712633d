/**
 * An item whose recording is replaced by a later one of the same thing: markers, cuts, repairs and lines are moved along
 * by how the later one lies on the earlier. Where nothing was cut or put in, the item keeps its own times.
 */
import { mapped, type TimeMap } from "../compare/time-map";
import { EditList } from "../edit-list/edit-list";
import { recordingClip, type Clip } from "../edit-list/clip";
import type { Frames, Hertz } from "../audio/units";
import type { ChainEntry } from "../processors";
import type { RepairStep } from "../repair";
import type { Region } from "../repair/time-frequency-region";
import { gainPoints, type GainPoint } from "../repair/gain-envelope";
import { placementOf } from "../programme/placement";
import type { Item, Marker } from "./document";

/** Something that lies where nothing of the earlier recording is any more. */
export interface LostPlace {
  what: string;
  /** Seconds of the later recording, where it was put. */
  seconds: number;
}

export interface MovedItem {
  clips: Clip[] | null;
  markers: Marker[];
  repairs: Item["repairs"];
  chain: ChainEntry[];
  /** Gain over time, where the item has it. */
  envelope: [number, number][] | null;
  /** To be looked at. */
  lost: LostPlace[];
}

/** Where a frame of the earlier one goes: its own place, or the nearest that is left. */
function placeOf(map: Pick<TimeMap, "stretches">, frame: Frames): { frame: Frames; isLost: boolean } {
  const place = mapped(map, frame);
  if (place !== null) return { frame: place, isLost: false };
  const { stretches } = map;
  const next = stretches.find(({ start }) => start > frame);
  const before = stretches.filter(({ end }) => end <= frame).at(-1);
  return { frame: next ? next.start + next.shift : before ? before.end + before.shift : 0, isLost: true };
}

/**
 * @param frames lengths of the two recordings
 * @param map how the later lies on the earlier
 */
export function movedAlong(
  item: Item,
  map: Pick<TimeMap, "stretches">,
  frames: { earlier: Frames; later: Frames },
  sampleRate: Hertz,
): MovedItem {
  const lost: LostPlace[] = [];
  const place = (frame: Frames, what: string): Frames => {
    const { frame: at, isLost } = placeOf(map, frame);
    const within = Math.max(0, Math.min(frames.later, at));
    if (isLost) lost.push({ what, seconds: within / sampleRate });
    return within;
  };
  const clips = movedClips(item.clips, map, frames, place);
  const markers = item.markers
    .map((marker): Marker => {
      const what = `marker ${marker.name || marker.kind}`;
      const start = place(marker.start, what);
      if (marker.end === undefined) return { ...marker, start };
      return { ...marker, start, end: Math.max(start + 1, placeOf(map, marker.end).frame) };
    })
    .sort((a, b) => a.start - b.start);
  const movedRegions = (regions: readonly Region[], what: string): Region[] =>
    regions.flatMap((region) => {
      const start = place(region.start, what);
      const end = Math.min(frames.later, placeOf(map, region.end).frame);
      return end > start ? [{ ...region, start, end }] : [];
    });
  const movedPoints = (learned: unknown): GainPoint[] =>
    gainPoints(learned)
      .map((point) => ({ ...point, frame: place(point.frame, "point of the gain envelope") }))
      .filter(({ frame }, i, all) => i === 0 || frame > all[i - 1]!.frame);
  const repairs = item.repairs.map((step): RepairStep => {
    const what = `region of the repair ${step.type}`;
    const regions = movedRegions(step.regions, what);
    return {
      ...step,
      regions,
      excludedRegions: movedRegions(step.excludedRegions, what),
      // Without any region it would be done everywhere.
      enabled: step.enabled && (regions.length > 0 || step.regions.length === 0),
      ...(step.type === "gain-envelope" ? { learned: movedPoints(step.learned) } : {}),
    };
  });
  const earlier = EditList.of(item.clips, frames.earlier);
  const later = EditList.of(clips, frames.later);
  const moveLine = (line: readonly (readonly [number, number])[], what: string): [number, number][] => {
    const points = line.map(([seconds, value]): [number, number] => {
      const at = later.toItem(place(earlier.toRecording(Math.round(seconds * sampleRate)), what));
      return [at === null ? seconds : at / sampleRate, value];
    });
    return points.filter(([seconds], i) => i === 0 || seconds > points[i - 1]![0]);
  };
  const isMoved = map.stretches.length > 1;
  const chain = item.chain.map((entry): ChainEntry => {
    if (!entry.automation || !isMoved) return entry;
    const lines = Object.entries(entry.automation).map(([name, line]) => [
      name,
      moveLine(line, `line of the ${entry.type}`),
    ]);
    return { ...entry, automation: Object.fromEntries(lines) };
  });
  const { envelope } = placementOf(item);
  return {
    clips,
    markers,
    repairs,
    chain,
    envelope: envelope.length === 0 ? null : isMoved ? moveLine(envelope, "gain line") : envelope,
    lost: lost.filter(
      ({ what, seconds }, i) => lost.findIndex((one) => one.what === what && one.seconds === seconds) === i,
    ),
  };
}

/** Clips of the later recording. Where the whole was used and the later one lies shifted, its head is cut or filled up. */
function movedClips(
  clips: readonly Clip[] | undefined,
  map: Pick<TimeMap, "stretches">,
  { earlier, later }: { earlier: Frames; later: Frames },
  place: (frame: Frames, what: string) => Frames,
): Clip[] | null {
  const [first] = map.stretches;
  const shift = first?.shift ?? 0;
  if (!clips) {
    if (shift === 0) return null;
    const head: Clip[] = shift < 0 ? [{ kind: "silence", start: 0, end: -shift }] : [];
    const end = map.stretches.length > 1 ? later : Math.min(later, earlier + shift);
    return [...head, recordingClip(Math.max(0, shift), Math.max(Math.max(0, shift) + 1, end))];
  }
  const moved = clips.flatMap((clip): Clip[] => {
    if (clip.kind !== "recording") return [clip];
    const start = place(clip.start, "beginning of a clip");
    const end = Math.min(later, placeOf(map, clip.end).frame);
    return end > start ? [{ ...clip, start, end }] : [];
  });
  return moved.length > 0 ? moved : null;
}
