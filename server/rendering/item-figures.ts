/**
 * Figures of items after repairs, cuts and chain, made while nothing else is to be done, so that predictions begin with
 * what was measured. They are those of the item's render, which its masters then find ready.
 */
import { itemOf, type ProjectDocument } from "@core/project/document";
import { itemRenderKey, processedItem } from "@core/project/item-render-inputs";
import { knownRecordings, type ItemFigures, type Source } from "@core/project/views";
import { rows } from "../db/database";
import { publish } from "../db/notifications";
import { openProject } from "../projects/projects";
import { findSources } from "../projects/sources";
import type { JobContext } from "../queue/job-runner";
import { BACKGROUND, enqueue } from "../queue/queue";
import { itemRender } from "./item-renders";

/** How often it is looked whether the item is still as it was. */
const LOOK_MS = 2000;
/** Seconds of a worker for each second of a channel. */
const COST = 1 / 60;

const sourcesOf = (document: ProjectDocument) => findSources(document.sources.map(({ hash }) => hash));

/** What was measured of a project's items as they are now; those that nothing is done to are not among them. */
export async function itemFiguresOf(document: ProjectDocument, sources: readonly Source[]): Promise<ItemFigures[]> {
  const known = knownRecordings(sources);
  const hashes = new Map<string, string>();
  for (const item of document.items) {
    const processed = processedItem(document, item, known);
    if (processed) hashes.set(itemRenderKey(processed.inputs), processed.hash);
  }
  if (hashes.size === 0) return [];
  const found = await rows<{ key: string } & Omit<ItemFigures, "hash">>(
    `select key, figures, overview_hash from item_render
     where state = 'done' and md5(key) in (select md5(wanted) from unnest($1::text[]) as wanted)`,
    [[...hashes.keys()]],
  );
  return found.flatMap(({ key, ...measured }) => {
    const hash = hashes.get(key);
    return hash ? [{ hash, ...measured }] : [];
  });
}

/** Asks for the figures of items; those that are there, or of which nobody knows, are left out. */
export async function requestItemFigures(project: string, items: readonly string[]): Promise<void> {
  const { document } = await openProject(project);
  const sources = await sourcesOf(document);
  const known = knownRecordings(sources);
  const there = new Set((await itemFiguresOf(document, sources)).map(({ hash }) => hash));
  for (const id of items) {
    const item = itemOf(document, id);
    const processed = item && processedItem(document, item, known);
    if (!processed || there.has(processed.hash)) continue;
    const figures = sources.find(({ hash }) => hash === item.source)?.figures;
    const costSeconds = 1 + (figures ? figures.durationSeconds * figures.channels * COST : 0);
    await enqueue({ queue: "figures", subject: `${project}/${id}`, project, costSeconds, priority: BACKGROUND });
  }
}

/** The job: renders the item as it is now, again where it was changed meanwhile. */
export async function itemFiguresJob({ subject, signal, progress }: JobContext): Promise<void> {
  const [project, id] = subject.split("/") as [string, string];
  const wanted = async () => {
    const { document } = await openProject(project);
    const item = itemOf(document, id);
    return item ? processedItem(document, item, knownRecordings(await sourcesOf(document))) : null;
  };
  for (let now = await wanted(); now;) {
    const { hash, inputs } = now;
    const changed = new AbortController();
    const timer = setInterval(() => {
      void wanted().then(
        (then) => then?.hash !== hash && changed.abort(),
        () => undefined,
      );
    }, LOOK_MS);
    try {
      await itemRender(inputs, project, AbortSignal.any([signal, changed.signal]), progress);
      return await publish({ topic: "project", project });
    } catch (error) {
      if (!changed.signal.aborted || signal.aborted) throw error;
      now = await wanted();
    } finally {
      clearInterval(timer);
    }
  }
}

/** A render that fails is told where a master is asked for; until then the figures stay estimates. */
export const itemFiguresFailed = async (): Promise<void> => undefined;
