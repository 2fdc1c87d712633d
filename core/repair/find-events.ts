import type { FrameSource } from "../audio/frame-source";
import type { Frames } from "../audio/units";
import { repairNamed, repairSettings, type RepairStep } from ".";
import { readAround, segmentFrames } from "./repaired-source";
import type { RepairEvent } from "./repair";
import { hullOf } from "./time-frequency-region";

export interface FoundRepairEvents {
  /** In order of time; no more than were asked for. */
  events: RepairEvent[];
  /** How many there are in all. */
  count: number;
}

/**
 * Everything that a step would do something at within some ranges, segment by segment. Places that the step leaves
 * alone are among them. Nothing for repairs that do not work at places.
 */
export async function findRepairEvents(
  source: FrameSource,
  step: RepairStep,
  ranges: readonly { start: Frames; end: Frames }[],
  most: number,
  onProgress?: (fraction: number) => void,
): Promise<FoundRepairEvents> {
  const { sampleRate, channels, frames } = source;
  const definition = repairNamed(step.type);
  const settings = repairSettings(step);
  const find = definition.find?.(settings, step.learned, { sampleRate, channels });
  const found: FoundRepairEvents = { events: [], count: 0 };
  if (!find) return found;
  const surroundings = Math.ceil(definition.contextSeconds(settings, step.learned) * sampleRate);
  const length = segmentFrames(sampleRate);
  const parts = ranges.flatMap(({ start, end }) =>
    Array.from({ length: Math.ceil((end - start) / length) }, (_, i) => ({
      start: start + i * length,
      end: Math.min(end, start + (i + 1) * length),
    })),
  );
  for (const [index, part] of parts.entries()) {
    const hull = hullOf(step.regions, part.start, part.end);
    if (hull) {
      const first = hull.start - surroundings;
      const block = await readAround(source, first, hull.end + surroundings);
      const places = find(block, {
        first,
        from: surroundings,
        to: hull.end - first,
        heldFrom: Math.max(0, -first),
        heldTo: Math.min(hull.end + surroundings, frames) - first,
      });
      places.sort((a, b) => a.start - b.start);
      found.count += places.length;
      found.events.push(...places.slice(0, Math.max(0, most - found.events.length)));
    }
    onProgress?.((index + 1) / parts.length);
  }
  return found;
}
