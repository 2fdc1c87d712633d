/** Masters as they stand: what is current, what is not, and what is written of them. */
import type { Item, ProjectDocument, Deliverable } from "./document";
import { masterInputs, masterKey, type KnownRecordings } from "./master-inputs";
import { masterNames } from "./filename-pattern";
import type { Master } from "./views";

/** A master that is finished and of the settings as they are now. */
export interface CurrentMaster {
  item: Item;
  deliverable: Deliverable;
  master: Master;
  /** Of its file. */
  name: string;
}

export function currentMasters(
  document: ProjectDocument,
  masters: readonly Master[],
  known: KnownRecordings,
): CurrentMaster[] {
  const done = new Map(
    masters
      .filter(({ state }) => state === "done")
      .map((master) => [`${master.item_id}/${master.deliverable_id}/${master.key}`, master]),
  );
  const names = new Map(masterNames(document).map((cell) => [`${cell.item.id}/${cell.deliverable.id}`, cell.name]));
  return document.deliverables.flatMap((deliverable) =>
    document.items.flatMap((item) => {
      const inputs = masterInputs(document, item, deliverable, known);
      const master = inputs && done.get(`${item.id}/${deliverable.id}/${masterKey(inputs)}`);
      return master ? [{ item, deliverable, master, name: names.get(`${item.id}/${deliverable.id}`)! }] : [];
    }),
  );
}
