/** From the programme in hand to what the listening engine plays of it. */
import type { Item, ProjectDocument } from "@core/project/document";
import { sourceInProgramme } from "@core/project/subjects";
import type { Source } from "@core/project/views";
import type { Timeline } from "@core/programme/timeline";
import type { ProgrammeItem, ProgrammePlan } from "@playback/programme-playback";
import { blobUrl } from "@ui/api/api";

export type ProgrammeHeard = "original" | "now";

/** @returns `null` while a recording is not there */
export function programmePlanOf(
  document: ProjectDocument,
  items: readonly Item[],
  timeline: Timeline,
  sources: readonly Source[],
  heard: ProgrammeHeard,
): ProgrammePlan | null {
  const byHash = new Map(sources.map((source) => [source.hash, source]));
  const played: ProgrammeItem[] = [];
  for (const item of items) {
    const source = byHash.get(sourceInProgramme(item, undefined));
    if (!source?.pcm_hash || !source.figures || !source.layout) return null;
    const asItCame = heard === "original";
    played.push({
      id: item.id,
      url: blobUrl(source.pcm_hash),
      layout: source.layout,
      sampleRate: source.figures.sampleRate,
      frames: source.figures.frames,
      repairs: asItCame ? [] : item.repairs,
      clips: item.clips ?? null,
      chain: asItCame ? [] : item.chain,
      placement: item.placement,
    });
  }
  return { timeline, items: played, lanes: document.programme.lanes };
}
