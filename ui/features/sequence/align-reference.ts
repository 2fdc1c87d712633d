/** Lays a reference on the sound that it belongs to. */
import { EditList } from "@core/edit-list/edit-list";
import { alignedAtSeconds } from "@core/programme/references";
import type { Reference } from "@core/programme/programme";
import type { PlacedItem } from "@core/programme/timeline";
import type { Item } from "@core/project/document";
import type { ProjectView } from "@core/project/views";
import type { TimeMapAnswer } from "@playback/time-map.worker";
import { blobUrl } from "@ui/api/api";
import { askWorker } from "@ui/workers/ask-worker";

/**
 * By the first sound that the item's recording and the reference share; that of the whole lies on its first item.
 * @param placed where the item stands in the programme
 * @returns its beginning in seconds, from that of the item or of the programme
 * @throws Error with what to do where they are not alike, or their rates differ
 */
export async function alignedReference(
  view: ProjectView,
  reference: Reference,
  item: Item,
  placed: Pick<PlacedItem, "start"> & { sampleRate: number },
  onProgress: (fraction: number) => void,
): Promise<number> {
  const sourceOf = (hash: string) => view.sources.find((source) => source.hash === hash);
  const [own, other] = [sourceOf(item.source), sourceOf(reference.source)];
  if (!own?.pcm_hash || !own.figures || !other?.pcm_hash)
    throw new Error("A recording is still being read. Try again once it is there.");
  const worker = new Worker(new URL("../../../playback/time-map.worker.ts", import.meta.url), { type: "module" });
  const request = { earlier: blobUrl(own.pcm_hash), later: blobUrl(other.pcm_hash) };
  const { map } = await askWorker<TimeMapAnswer>(worker, request, {
    onProgress: ({ fraction }) => onProgress(fraction),
  });
  const shared = map?.stretches[0];
  if (!shared) throw new Error(`“${other.name}” is not alike enough to “${item.name}”. Type where it begins.`);
  const { sampleRate, frames } = own.figures;
  const fromItem = alignedAtSeconds(EditList.of(item.clips, frames), shared.shift, sampleRate);
  return reference.item === null ? placed.start / placed.sampleRate + fromItem : fromItem;
}
