/** From the programme in hand to what the listening engine plays of it. */
import { layoutProblem } from "@core/programme/fitted-source";
import { placementOf } from "@core/programme/placement";
import { heardReferences, placedReferences } from "@core/programme/references";
import type { Timeline } from "@core/programme/timeline";
import type { Item, ProjectDocument } from "@core/project/document";
import { itemInMix } from "@core/project/mixes";
import { knownRecordings, type Source } from "@core/project/views";
import type { ProgrammeItem, ProgrammePlan } from "@playback/programme-playback";
import { chainWithPending, type WorkspaceState } from "./workspace-store";
import { blobUrl } from "@ui/api/api";

/** What is heard of the programme: recordings as they came, all that is set, or what was laid beside it. */
export type ProgrammeHeard = "original" | "now" | "reference";

/** The recording that an item is played from; `null` while it is not there. */
function recordingOf(
  source: Source | undefined,
): Pick<ProgrammeItem, "url" | "layout" | "sampleRate" | "frames"> | null {
  if (!source?.pcm_hash || !source.figures || !source.layout) return null;
  const { sampleRate, frames } = source.figures;
  return { url: blobUrl(source.pcm_hash), layout: source.layout, sampleRate, frames };
}

const loudnessOf = (source: Source | undefined): number | null => source?.figures?.integratedLufs ?? null;

interface Listened {
  document: ProjectDocument;
  items: readonly Item[];
  /** Of the mix that is heard. */
  timeline: Timeline;
  sources: readonly Source[];
  /** A setting that is being moved. */
  pending?: WorkspaceState["pendingParameter"];
}

/**
 * @param mix that is heard of each item which has it; absent for the one in force
 * @param isMatched whether another mix is brought to the loudness of the one in force
 * @returns `null` while a recording is not there
 */
export function programmePlanOf(
  { document, items, timeline, sources, pending = null }: Listened,
  heard: "original" | "now",
  { mix, isMatched = false }: { mix?: string | undefined; isMatched?: boolean } = {},
): ProgrammePlan | null {
  const byHash = new Map(sources.map((source) => [source.hash, source]));
  const played: ProgrammeItem[] = [];
  const known = knownRecordings(sources);
  for (const stored of items) {
    const item = itemInMix(stored, mix, known);
    const source = byHash.get(item.source);
    const recording = recordingOf(source);
    if (!recording) return null;
    const asItCame = heard === "original";
    const [own, other] = [loudnessOf(byHash.get(stored.source)), loudnessOf(source)];
    const matchDb = isMatched && own !== null && other !== null ? own - other : 0;
    played.push({
      id: item.id,
      ...recording,
      repairs: asItCame ? [] : item.repairs,
      clips: item.clips ?? null,
      chain: asItCame ? [] : item.chain,
      placement: matchDb === 0 ? item.placement : { ...item.placement, gainDb: placementOf(item).gainDb + matchDb },
    });
  }
  const lanes = document.programme.lanes.map((lane) => ({ ...lane, chain: chainWithPending(lane.chain, pending) }));
  return { timeline, items: played, lanes };
}

/**
 * References in the place of the programme, at the same places, one at a place.
 * @param chosen the one that is heard of several at one place
 * @param loudnessAt loudness that the reference of an item is brought to, or that of the whole (`null`); `null` where
 *   levels are not matched or not known
 * @returns `null` where none can be heard
 */
export function referencePlanOf(
  { document, timeline, sources }: Omit<Listened, "items">,
  chosen: string | null,
  loudnessAt: (item: string | null) => number | null,
): ProgrammePlan | null {
  const byHash = new Map(sources.map((source) => [source.hash, source]));
  const there = document.programme.references.filter(({ source }) => {
    const recording = recordingOf(byHash.get(source));
    return recording !== null && layoutProblem(recording.layout, timeline.layout) === null;
  });
  const audible = heardReferences(there, chosen);
  const order = placedReferences(audible, timeline, (source) => recordingOf(byHash.get(source)));
  if (order.length === 0) return null;
  const placed = new Set(order.map(({ item }) => item));
  const items = audible
    .filter(({ id }) => placed.has(id))
    .map(({ id, source, item }): ProgrammeItem => {
      const [own, wanted] = [loudnessOf(byHash.get(source)), loudnessAt(item)];
      const gainDb = own !== null && wanted !== null ? wanted - own : 0;
      return { id, ...recordingOf(byHash.get(source))!, repairs: [], clips: null, chain: [], placement: { gainDb } };
    });
  return { timeline: { ...timeline, order, onLanes: [] }, items, lanes: [] };
}
