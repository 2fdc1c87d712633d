/** Masters as they stand: what is current, what is not, and what is written of them. */
import type { Item, ProjectDocument, Deliverable } from "./document";
import type { KnownRecordings } from "./known-recordings";
import { masterInputs, masterKey } from "./master-inputs";
import { masterNames } from "./filename-pattern";
import { allSubjects } from "./subjects";
import { PROGRAMME_ID } from "./document";
import type { Master } from "./views";

/** A master that is finished, of the settings as they are now, and to be delivered. */
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
  return allSubjects(document)
    .filter(({ item, deliverable }) => item.id !== PROGRAMME_ID || deliverable.programme !== "item files")
    .flatMap(({ item, deliverable }) => {
      const inputs = masterInputs(document, item, deliverable, known);
      const master = inputs && done.get(`${item.id}/${deliverable.id}/${masterKey(inputs)}`);
      return master ? [{ item, deliverable, master, name: names.get(`${item.id}/${deliverable.id}`)! }] : [];
    });
}
