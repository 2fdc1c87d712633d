/** The board's cells: every item with every deliverable, predicted, under way or measured on the file. */
import { PROGRAMME_ID, specOf, type Deliverable, type Item } from "./document";
import { canonicalJson } from "../math/canonical-json";
import { isRetaggable } from "../files/containers";
import { masterInputs, masterKey, programmeProblem, soundInputs, type MasterInputs } from "./master-inputs";
import { markedItems, orderOf, programmeItem, subjectsOf } from "./subjects";
import { hasOvershoot } from "./wanted-overshoots";
import { knownRecordings, type Master, type ProjectView, type Source } from "./views";
import { remediesFor, type Remedy, type TriedNoise } from "../delivery/remedies";
import { masterLayout } from "../delivery/render-plan";
import { albumGain } from "../delivery/normalisation";
import { predictNow } from "../delivery/predict-chain";
import { predictDelivery, type Prediction } from "../delivery/predict-delivery";
import { fileFacts } from "../delivery/recipe";
import type { Figures } from "../measure";
import { predictableOf, type KnownItem, type KnownOf } from "./known-items";
import type { DeliverySpec } from "../delivery/spec";
import { check, checkAlbum, type LimitedFigures, type Verdict } from "../delivery/compliance";

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
  /** What a prediction does not know of yet: it is an estimate without that; `null` where it knows all. */
  leftOut: string | null;
  /** Why there can be no master of a programme as it is; `null` where there can. */
  problem: string | null;
  /** Whether only its tags have changed since it was rendered: rendering it rewrites the header. */
  retags: boolean;
}

/** The gain that all items of the running order will share, as predicted; `null` where each has its own. */
function albumGainOf(
  { document }: Pick<ProjectView, "document">,
  { programme, mix }: Deliverable,
  spec: DeliverySpec,
  known: KnownOf,
): number | null {
  if (programme || spec.gainScope !== "album") return null;
  const after = orderOf(document).map((item) => {
    const facts = known(item, mix);
    if (!facts) return null;
    const { figures, curves, chain, known: along } = predictableOf(document, item, facts, spec.measuredOn);
    return predictNow(figures, curves, chain, along);
  });
  return after.every((figures) => figures !== null) ? albumGain(spec, after as LimitedFigures[]) : null;
}

const soundKey = (inputs: MasterInputs): string => canonicalJson(soundInputs(inputs));

/** Rows of the board: the whole programme, where it is delivered, the items of the order, its marked stretches. */
export function boardRows(document: ProjectView["document"]): Item[] {
  const order = orderOf(document);
  const forms = document.deliverables.flatMap(({ programme }) => programme ?? []);
  if (order.length === 0 || forms.length === 0) return order;
  const marked = forms.includes("marked stretches") ? markedItems(document) : [];
  return [programmeItem(document), ...order, ...marked];
}

/** All cells of a deliverable: the whole first, then in the running order. */
export function columnOf(
  view: Pick<ProjectView, "document" | "sources" | "masters">,
  deliverable: Deliverable,
  known: KnownOf,
): Cell[] {
  const { document } = view;
  const spec = specOf(document, deliverable.spec);
  const recordings = knownRecordings(view.sources);
  const albumGainDb = albumGainOf(view, deliverable, spec, known);
  const rendered = isRetaggable(deliverable.format.container)
    ? new Set(
        view.masters
          .filter((one) => one.deliverable_id === deliverable.id && one.state === "done")
          .map(({ inputs }) => soundKey(inputs)),
      )
    : new Set<string>();
  return subjectsOf(document, deliverable).map((item) => {
    const source = view.sources.find(({ hash }) => hash === item.source);
    const inputs = masterInputs(document, item, deliverable, recordings);
    const key = inputs && masterKey(inputs);
    const master = view.masters.find(
      (one) => one.item_id === item.id && one.deliverable_id === deliverable.id && one.key === key,
    );
    const found = knownFor(item, deliverable, known);
    const facts = found && predictableOf(document, item, found, spec.measuredOn);
    const prediction = facts
      ? predictDelivery(facts.figures, facts.curves, facts.chain, spec, {
          albumGainDb,
          known: facts.known,
          overshoot: found?.overshootOf?.(deliverable.format) ?? null,
        })
      : null;
    const measured = master?.state === "done" ? (master.result?.verdict ?? null) : null;
    return {
      item,
      deliverable,
      spec,
      source,
      master,
      prediction,
      verdict: measured ?? (prediction && facts ? checkPredicted(spec, prediction, deliverable, facts, inputs) : null),
      verified: measured !== null,
      leftOut: measured || !found ? null : leftOutOf(found, spec, deliverable),
      problem: inputs && programmeProblem(inputs, (id) => document.items.find((one) => one.id === id)?.name ?? id),
      retags: !master && inputs !== null && rendered.has(soundKey(inputs)),
    };
  });
}

/** What a master's prediction begins with; of files that a programme is cut into nothing is predicted. */
const knownFor = (item: Item, { programme, mix }: Deliverable, known: KnownOf): KnownItem | null =>
  programme && item.id !== PROGRAMME_ID ? null : known(item, mix);

/** What a prediction does not know of yet, in words. */
function leftOutOf(known: KnownItem, { measuredOn }: DeliverySpec, { format }: Deliverable): string | null {
  const isTried = !hasOvershoot(format) || known.overshootOf?.(format)?.isExact;
  const words = [
    ...(known.leftOut ? [known.leftOut] : []),
    ...(known.foldedOn?.(measuredOn) === null ? ["its fold-down"] : []),
    ...(isTried ? [] : ["what encoding adds to its peaks"]),
  ];
  return words.length > 0 ? words.join(" and ") : null;
}

function checkPredicted(
  spec: DeliverySpec,
  prediction: Prediction,
  { format }: Deliverable,
  { figures }: { figures: Figures },
  inputs: MasterInputs | null,
): Verdict {
  const layout = inputs ? masterLayout({ format }, inputs.layout).name : figures.layout;
  return check(spec, prediction.figures, fileFacts(format, figures.sampleRate, layout));
}

const figuresOf = ({ verified, master, prediction }: Cell): LimitedFigures | null =>
  verified ? master!.result!.figures : (prediction?.figures ?? null);

/** What a spec asks of the running order as a whole, held against a column; `null` where it asks for nothing. */
export function albumVerdict(column: readonly Cell[]): Verdict | null {
  const items = column.filter(({ item }) => item.id !== PROGRAMME_ID);
  const [first] = items;
  if (!first) return null;
  const figures = items.map(figuresOf);
  if (figures.some((one) => one === null)) return null;
  const layouts = items.map(({ source, deliverable }) =>
    source?.layout ? masterLayout(deliverable, source.layout).name : "",
  );
  const verdict = checkAlbum(first.spec, figures as LimitedFigures[], layouts);
  return verdict.limits.length + verdict.fileRequirements.length > 0 ? verdict : null;
}

/** What would make a cell pass. */
export function remediesOf(
  { document }: ProjectView,
  cell: Cell,
  known: KnownOf,
  triedNoise: readonly TriedNoise[] = [],
): Remedy[] {
  const found = cell.deliverable.programme ? null : known(cell.item);
  if (!found || !cell.source?.layout) return [];
  const facts = predictableOf(document, cell.item, found, cell.spec.measuredOn);
  return remediesFor({
    ...facts,
    overshoot: found.overshootOf?.(cell.deliverable.format) ?? null,
    triedNoise,
    own: Math.min(facts.chain.length, cell.item.chain.length),
    spec: cell.spec,
    format: cell.deliverable.format,
    layout: masterLayout(cell.deliverable, cell.source.layout).name,
    ...(cell.master?.result ? { places: cell.master.result.places, albumGainDb: cell.master.result.albumGainDb } : {}),
  });
}

/** Cells that have no master of their present settings, done or under way. */
export const toRender = (cells: readonly Cell[]): Cell[] =>
  cells.filter(
    ({ master, source }) =>
      source?.state === "ready" && (!master || master.state === "failed" || master.state === "cancelled"),
  );
