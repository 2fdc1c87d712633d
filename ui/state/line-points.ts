/** Where the points of lines lie that are drawn over time: gain lines, and settings that are automated. */
import type { ChainEntry } from "@core/processors";
import type { Item, ProjectDocument } from "@core/project/document";
import { placementOf } from "@core/programme/placement";
import { gainPoints } from "@core/repair/gain-envelope";
import { secondsOfRecording } from "./item-time";
import type { StageName } from "./workspace-store";

type Timed = Parameters<typeof secondsOfRecording>[0];

/** Points nearer than this are the same place. */
const SAME_SECONDS = 0.001;

const inOrder = (seconds: readonly number[]): number[] =>
  [...seconds].sort((a, b) => a - b).filter((at, i, all) => i === 0 || at - all[i - 1]! > SAME_SECONDS);

const pointsOfEntry = ({ automation, line }: ChainEntry): number[] => [
  ...Object.values(automation ?? {}).flatMap((points) => points.map(([seconds]) => seconds)),
  // Of a leveller or a ducker.
  ...(Array.isArray(line) ? (line as [number, number][]).map(([seconds]) => seconds) : []),
];

/**
 * Points of the item's lines, seconds of the item in their order: in Repair those of the gain line in hand, or of all
 * of them; elsewhere those of its chain.
 */
export function itemPoints(item: Item, timed: Timed, stage: StageName, step: string | null): number[] {
  if (stage !== "repair") return inOrder(item.chain.flatMap(pointsOfEntry));
  const lines = item.repairs.filter(({ type }) => type === "gain-envelope");
  const inHand = lines.filter(({ id }) => id === step);
  const points = (inHand.length > 0 ? inHand : lines).flatMap(({ learned }) => gainPoints(learned));
  return inOrder(points.flatMap(({ frame }) => secondsOfRecording(timed, frame) ?? []));
}

/** Points of the gain line in hand, or of all gain lines of items and lanes; seconds of the programme. */
export function programmePoints(
  { items, programme }: Pick<ProjectDocument, "items" | "programme">,
  startOf: (item: string) => number | null,
  of: { kind: "item" | "lane"; id: string } | null,
): number[] {
  const ofItems = items.flatMap((item) => {
    const start = startOf(item.id);
    if (start === null || (of && (of.kind !== "item" || of.id !== item.id))) return [];
    return placementOf(item).envelope.map(([seconds]) => start + seconds);
  });
  const ofLanes = programme.lanes.flatMap(({ id, envelope }) =>
    of && (of.kind !== "lane" || of.id !== id) ? [] : envelope.map(([seconds]) => seconds),
  );
  return inOrder([...ofItems, ...ofLanes]);
}

/** The next point on, or back; `null` where there is none. */
export const pointFrom = (points: readonly number[], now: number, direction: 1 | -1): number | null =>
  (direction > 0 ? points.find((at) => at > now + SAME_SECONDS) : points.findLast((at) => at < now - SAME_SECONDS)) ??
  null;
