/** The board's cells: every item with every deliverable, predicted, under way or measured on the file. */
import { wholeChain, type Deliverable, type Item } from "@core/project/document";
import { masterInputs, masterKey } from "@core/project/master-inputs";
import type { Master, ProjectView, Source } from "@core/project/views";
import { predictDelivery, type Prediction } from "@core/render/predict";
import type { Curves, Figures } from "@core/measure";
import { specNamed } from "@core/spec";
import type { DeliverySpec } from "@core/spec/spec";
import { check, type Verdict } from "@core/spec/verdict";

export interface Cell {
  item: Item;
  deliverable: Deliverable;
  spec: DeliverySpec;
  source: Source | undefined;
  /** The master of exactly these settings, if one was ever asked for. */
  master: Master | undefined;
  prediction: Prediction | null;
  /** Of the file where there is one, else of the prediction. */
  verdict: Verdict | null;
  verified: boolean;
}

/** Figures and curves of an item before its chain. */
export type KnownOf = (item: Item) => { figures: Figures; curves: Curves } | null;

export function cellOf(view: ProjectView, item: Item, deliverable: Deliverable, known: KnownOf): Cell {
  const spec = specNamed(deliverable.spec);
  const source = view.sources.find(({ hash }) => hash === item.source);
  const key = source?.layout ? masterKey(masterInputs(view.document, item, deliverable, source.layout)) : null;
  const master = view.masters.find(
    (one) => one.item_id === item.id && one.deliverable_id === deliverable.id && one.key === key,
  );
  const facts = known(item);
  const prediction = facts ? predictDelivery(facts.figures, facts.curves, wholeChain(view.document, item), spec) : null;
  const measured = master?.state === "done" ? (master.result?.verdict ?? null) : null;
  return {
    item,
    deliverable,
    spec,
    source,
    master,
    prediction,
    verdict: measured ?? (prediction ? check(spec, prediction.figures) : null),
    verified: measured !== null,
  };
}

/** Cells that have no master of their present settings, done or under way. */
export const toRender = (cells: Cell[]): Cell[] =>
  cells.filter(
    ({ master, source }) =>
      source?.state === "ready" && (!master || master.state === "failed" || master.state === "cancelled"),
  );
