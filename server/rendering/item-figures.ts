/**
 * Figures of items after repairs, cuts and chain, and of programmes after theirs, made while nothing else is to be done,
 * so that predictions begin with what was measured. An item's are those of its render, which its masters find ready;
 * what encoding adds to its peaks is tried behind them.
 */
import { PROGRAMME_ID, itemOf, type ProjectDocument } from "@core/project/document";
import { wantedFigures, wantedOfItem, wantedOfProgramme, type WantedFigures } from "@core/project/wanted-figures";
import { overshootsOfItem } from "@core/project/wanted-overshoots";
import { knownRecordings, type ItemFigures, type Source } from "@core/project/views";
import { rows } from "../db/database";
import { publish } from "../db/notifications";
import { openProject } from "../projects/projects";
import { findSources } from "../projects/sources";
import type { JobContext } from "../queue/job-runner";
import { BACKGROUND, enqueue } from "../queue/queue";
import { keepOvershoot, unmeasuredOvershoots } from "./encoding-overshoots";
import { itemRender } from "./item-renders";
import { measureProgramme } from "./programme-figures";

/** How often it is looked whether a subject is still as it was. */
const LOOK_MS = 2000;
/** Seconds of a worker for each second of a channel. */
const COST = 1 / 60;

const sourcesOf = (document: ProjectDocument) => findSources(document.sources.map(({ hash }) => hash));

/** What was measured of these, as they are now. */
async function measuredOf(wanted: readonly WantedFigures[]): Promise<ItemFigures[]> {
  if (wanted.length === 0) return [];
  const hashes = new Map(wanted.map(({ key, hash }) => [key, hash]));
  const found = await rows<{ key: string } & Omit<ItemFigures, "hash">>(
    `with wanted as (select md5(key) as sum from unnest($1::text[]) as key)
     select key, figures, overview_hash from item_render where state = 'done' and md5(key) in (select sum from wanted)
     union all
     select key, figures, overview_hash from programme_figures where md5(key) in (select sum from wanted)`,
    [[...hashes.keys()]],
  );
  return found.flatMap(({ key, ...measured }) => {
    const hash = hashes.get(key);
    return hash ? [{ hash, ...measured }] : [];
  });
}

/** What was measured of a project's items and programmes as they are now; items that nothing is done to are not among them. */
export const itemFiguresOf = (document: ProjectDocument, sources: readonly Source[]): Promise<ItemFigures[]> =>
  measuredOf(wantedFigures(document, knownRecordings(sources)));

/** What is wanted of an item or the programme; nothing where it is gone. */
function wantedOf(document: ProjectDocument, subject: string, sources: readonly Source[]): WantedFigures[] {
  const known = knownRecordings(sources);
  if (subject === PROGRAMME_ID) return wantedOfProgramme(document, known);
  const item = itemOf(document, subject);
  return item ? wantedOfItem(document, item, known) : [];
}

/** What is to be measured of a subject: figures, or what an encoder adds. */
interface Wanted {
  hash: string;
  measure: (project: string, signal: AbortSignal, progress: JobContext["progress"]) => Promise<void>;
}

const figuresWanted = ({ hash, key, inputs }: WantedFigures): Wanted => ({
  hash,
  measure: async (project, signal, progress) => {
    if ("programme" in inputs) await measureProgramme(key, inputs, project, signal, progress);
    else await itemRender(inputs, project, signal, progress);
  },
});

/** What is not known yet of a subject as it is; figures first. */
async function missingOf(document: ProjectDocument, subject: string, sources: readonly Source[]): Promise<Wanted[]> {
  const wanted = wantedOf(document, subject, sources);
  const there = new Set((await measuredOf(wanted)).map(({ hash }) => hash));
  const item = itemOf(document, subject);
  const overshoots = item ? await unmeasuredOvershoots(overshootsOfItem(document, item, knownRecordings(sources))) : [];
  return [
    ...wanted.filter(({ hash }) => !there.has(hash)).map(figuresWanted),
    ...overshoots.map((one) => ({
      hash: `${one.hash} ${one.encoding}`,
      measure: (...of: Parameters<Wanted["measure"]>) => keepOvershoot(one, ...of),
    })),
  ];
}

/** Asks for the figures of items or the programme; those that are there, or of which nobody knows, are left out. */
export async function requestItemFigures(project: string, subjects: readonly string[]): Promise<void> {
  const { document } = await openProject(project);
  const sources = await sourcesOf(document);
  const channelSeconds = new Map(
    sources.flatMap(({ hash, figures }) => (figures ? [[hash, figures.durationSeconds * figures.channels]] : [])),
  );
  const total = document.items.reduce((sum, { source }) => sum + (channelSeconds.get(source) ?? 0), 0);
  for (const subject of subjects) {
    if ((await missingOf(document, subject, sources)).length === 0) continue;
    const seconds = subject === PROGRAMME_ID ? total : (channelSeconds.get(itemOf(document, subject)!.source) ?? 0);
    const costSeconds = 1 + seconds * COST;
    await enqueue({ queue: "figures", subject: `${project}/${subject}`, project, costSeconds, priority: BACKGROUND });
  }
}

/** The job: measures what is missing of the subject as it is now, again where it was changed meanwhile. */
export async function itemFiguresJob({ subject, signal, progress }: JobContext): Promise<void> {
  const [project, id] = subject.split("/") as [string, string];
  const missing = async () => {
    const { document } = await openProject(project);
    return missingOf(document, id, await sourcesOf(document));
  };
  for (let [now] = await missing(); now && !signal.aborted; [now] = await missing()) {
    const { hash, measure } = now;
    const changed = new AbortController();
    const timer = setInterval(() => {
      void missing().then(
        (wanted) => !wanted.some((one) => one.hash === hash) && changed.abort(),
        () => undefined,
      );
    }, LOOK_MS);
    try {
      await measure(project, AbortSignal.any([signal, changed.signal]), progress);
      await publish({ topic: "project", project });
    } catch (error) {
      if (!changed.signal.aborted || signal.aborted) throw error;
    } finally {
      clearInterval(timer);
    }
  }
}

/** A render that fails is told where a master is asked for; until then the figures stay estimates. */
export const itemFiguresFailed = async (): Promise<void> => undefined;
