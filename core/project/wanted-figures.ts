/** What predictions begin with: items through all that is done to them, and programmes, in every mix that is delivered. */
import { PROGRAMME_ID, type Item, type ProjectDocument } from "./document";
import { itemRenderKey, processedItem, type ItemRenderInputs } from "./item-render-inputs";
import type { KnownRecordings } from "./known-recordings";
import { itemInMix, sourceInMix } from "./mixes";
import { programmeProblem } from "./master-inputs";
import { processedProgramme, type ProcessedProgramme } from "./programme-inputs";

export interface WantedFigures {
  /** An item's id, or the programme's. */
  subject: string;
  /** Text that they are kept under, and its SHA-256, by which they are told. */
  key: string;
  hash: string;
  inputs: ItemRenderInputs | ProcessedProgramme;
}

/** Mixes that deliverables of items, or of the programme, are made of; `undefined` is the one in force. */
const mixesOf = ({ deliverables }: ProjectDocument, isProgramme: boolean): (string | undefined)[] => [
  ...new Set(deliverables.filter(({ programme }) => !programme !== isProgramme).map(({ mix }) => mix)),
];

/** Of one item: nothing where nothing is done to it, or its recording is not read. */
export function wantedOfItem(document: ProjectDocument, item: Item, known: KnownRecordings): WantedFigures[] {
  const mixes = [undefined, ...mixesOf(document, false)].filter((mix) => sourceInMix(item, mix) !== null);
  const made = new Set(mixes.map((mix) => itemInMix(item, mix, known)));
  return [...made].flatMap((one) => {
    const processed = processedItem(document, one, known);
    return processed ? [{ ...processed, subject: item.id, key: itemRenderKey(processed.inputs) }] : [];
  });
}

/** Of the programme, where it is delivered. */
export const wantedOfProgramme = (document: ProjectDocument, known: KnownRecordings): WantedFigures[] =>
  mixesOf(document, true).flatMap((mix) => {
    const processed = processedProgramme(document, mix, known);
    // What cannot be put together is told where its master is asked for.
    if (!processed || programmeProblem(processed.inputs, (item) => item)) return [];
    return [{ ...processed, subject: PROGRAMME_ID }];
  });

/** All that a project wants. */
export const wantedFigures = (document: ProjectDocument, known: KnownRecordings): WantedFigures[] => [
  ...document.items.flatMap((item) => wantedOfItem(document, item, known)),
  ...wantedOfProgramme(document, known),
];
