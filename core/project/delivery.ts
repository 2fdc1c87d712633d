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

/** What is to be delivered: a programme that its files are cut from alone is not. */
export const deliveredSubjects = (document: ProjectDocument) =>
  allSubjects(document).filter(
    ({ item, deliverable: { programme } }) =>
      item.id !== PROGRAMME_ID || (programme !== "item files" && programme !== "marked stretches"),
  );

export function currentMasters(
  document: ProjectDocument,
  masters: readonly Master[],
  known: KnownRecordings,
): CurrentMaster[] {
  const done = new Map<string, Master[]>();
  for (const master of masters) {
    if (master.state !== "done") continue;
    const cell = `${master.item_id}/${master.deliverable_id}`;
    done.set(cell, [...(done.get(cell) ?? []), master]);
  }
  if (done.size === 0) return [];
  const names = new Map(masterNames(document).map((cell) => [`${cell.item.id}/${cell.deliverable.id}`, cell.name]));
  return deliveredSubjects(document).flatMap(({ item, deliverable }) => {
    const made = done.get(`${item.id}/${deliverable.id}`);
    // What was never rendered has no settings to be held against.
    const inputs = made && masterInputs(document, item, deliverable, known);
    const key = inputs && masterKey(inputs);
    const master = made?.find((one) => one.key === key);
    return master ? [{ item, deliverable, master, name: names.get(`${item.id}/${deliverable.id}`)! }] : [];
  });
}
