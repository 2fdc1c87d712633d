/** What is known of a project's items and programme before anything is rendered: what predictions of masters begin with. */
import { EditList } from "../edit-list/edit-list";
import type { Curves, Measured } from "../measure";
import type { ChainEntry } from "../processors";
import { isActive } from "../repair";
import { estimatedOf, type KnownLevels } from "../delivery/predict-chain";
import { onFoldDown, type FoldChange } from "../delivery/on-fold-down";
import type { MasterFormat } from "../delivery/recipe";
import type { DeliverySpec } from "../delivery/spec";
import { PROGRAMME_ID, wholeChain, type Item, type ProjectDocument } from "./document";
import { processedItem } from "./item-render-inputs";
import { itemInMix } from "./mixes";
import { processedProgramme } from "./programme-inputs";
import { knownRecordings, type ProjectView } from "./views";
import type { MeasuredOvershoot } from "./wanted-overshoots";

export type MeasuredOn = DeliverySpec["measuredOn"];

/** What is known of an item's sound. */
export interface KnownItem extends Measured {
  /** Levels that were measured along its chain. */
  known?: KnownLevels | null;
  /** After repairs, cuts and chain, as it was measured on all of the sound; `null` until then. */
  after?: Measured | null;
  /** What the figures before the chain leave out; `null` where they are measured. */
  leftOut?: string | null;
  /** How loudness changes where a spec measures it; `null` while that is not known. */
  foldedOn?: (measuredOn: MeasuredOn) => FoldChange | null;
  /** What encoding adds to its peaks, as far as it was tried. */
  overshootOf?: (format: MasterFormat) => MeasuredOvershoot | null;
}

/**
 * Figures and curves of an item before its chain, and after it where that was measured; of the programme after its own.
 * @param mix that they are those of; the one in force without
 */
export type KnownOf = (item: Item, mix?: string) => KnownItem | null;

/**
 * What predictions begin with: what was measured after the chain, with nothing more to come, or all of the chain still.
 * @param measuredOn where the spec measures loudness
 */
export function predictableOf(
  document: Pick<ProjectDocument, "chain">,
  item: Item,
  facts: KnownItem,
  measuredOn: MeasuredOn = "programme",
): Measured & { chain: readonly ChainEntry[]; known: KnownLevels | null } {
  const change = facts.foldedOn?.(measuredOn) ?? {};
  const { figures, curves } = facts.after ?? facts;
  const measured = { figures: onFoldDown(figures, change), curves };
  if (facts.after) return { ...measured, chain: [], known: null };
  return { ...measured, chain: wholeChain(document, item), known: facts.known ?? null };
}

/** What figures as they came leave out of an item. */
export function leftOutOf({ repairs, clips }: Item): string | null {
  const active = repairs.filter(isActive).length;
  const words = [
    ...(active > 0 ? [active === 1 ? "its repair" : `its ${active} repairs`] : []),
    ...(clips ? ["what its cuts do to peaks"] : []),
  ];
  return words.length > 0 ? words.join(" and ") : null;
}

/** What the server knows: of items after all that is done to them, or as they came, of programmes after their chains. Each is opened once. */
export function knownOf(
  { document, sources, itemFigures }: Pick<ProjectView, "document" | "sources" | "itemFigures">,
  curves: ReadonlyMap<string, Curves>,
): KnownOf {
  const known = knownRecordings(sources);
  const byHash = new Map(sources.map((source) => [source.hash, source]));
  const measured = new Map(itemFigures.map((one) => [one.hash, one]));
  const made = new Map<string, KnownItem | null>();
  const measuredAs = (hash: string | undefined): Measured | null => {
    const found = hash === undefined ? undefined : measured.get(hash);
    const own = found && curves.get(found.overview_hash);
    return own ? { figures: found.figures, curves: own } : null;
  };
  const openProgramme = (mix: string | undefined): KnownItem | null => {
    const after = measuredAs(processedProgramme(document, mix, known)?.hash);
    return after && { ...after, after, leftOut: null };
  };
  const openItem = (item: Item): KnownItem | null => {
    const source = byHash.get(item.source);
    const own = curves.get(source?.overview_hash ?? "");
    if (!source?.figures || !own) return null;
    const { sampleRate, frames } = source.figures;
    const asItCame = estimatedOf({ figures: source.figures, curves: own }, EditList.of(item.clips, frames), sampleRate);
    const after = measuredAs(processedItem(document, item, known)?.hash);
    return { ...asItCame, after, leftOut: after ? null : leftOutOf(item) };
  };
  return (item, mix) => {
    const key = `${item.id} ${mix ?? ""}`;
    if (!made.has(key))
      made.set(key, item.id === PROGRAMME_ID ? openProgramme(mix) : openItem(itemInMix(item, mix, known)));
    return made.get(key)!;
  };
}
