/**
 * Figures of items after repairs, cuts and chain, and of programmes after theirs, made while nothing else is to be done,
 * so that predictions begin with what was measured. An item's are those of its render, which its masters find ready.
 */
import { PROGRAMME_ID, itemOf, type ProjectDocument } from "@core/project/document";
import { wantedFigures, wantedOfItem, wantedOfProgramme, type WantedFigures } from "@core/project/wanted-figures";
import { knownRecordings, type ItemFigures, type Source } from "@core/project/views";
import { rows } from "../db/database";
import { publish } from "../db/notifications";
import { openProject } from "../projects/projects";
import { findSources } from "../projects/sources";
import type { JobContext } from "../queue/job-runner";
import { BACKGROUND, enqueue } from "../queue/queue";
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

async function missingOf(project: string, subject: string): Promise<WantedFigures | undefined> {
  const { document } = await openProject(project);
  const wanted = wantedOf(document, subject, await sourcesOf(document));
  const there = new Set((await measuredOf(wanted)).map(({ hash }) => hash));
  return wanted.find(({ hash }) => !there.has(hash));
}

/** Asks for the figures of items or the programme; those that are there, or of which nobody knows, are left out. */
export async function requestItemFigures(project: string, subjects: readonly string[]): Promise<void> {
  const { document } = await openProject(project);
  const sources = await sourcesOf(document);
  const there = new Set((await itemFiguresOf(document, sources)).map(({ hash }) => hash));
  const channelSeconds = new Map(
    sources.flatMap(({ hash, figures }) => (figures ? [[hash, figures.durationSeconds * figures.channels]] : [])),
  );
  const total = document.items.reduce((sum, { source }) => sum + (channelSeconds.get(source) ?? 0), 0);
  for (const subject of subjects) {
    if (!wantedOf(document, subject, sources).some(({ hash }) => !there.has(hash))) continue;
    const seconds = subject === PROGRAMME_ID ? total : (channelSeconds.get(itemOf(document, subject)!.source) ?? 0);
    const costSeconds = 1 + seconds * COST;
    await enqueue({ queue: "figures", subject: `${project}/${subject}`, project, costSeconds, priority: BACKGROUND });
  }
}

/** The job: measures what is missing of the subject as it is now, again where it was changed meanwhile. */
export async function itemFiguresJob({ subject, signal, progress }: JobContext): Promise<void> {
  const [project, id] = subject.split("/") as [string, string];
  let measured = false;
  for (let now = await missingOf(project, id); now && !signal.aborted; now = await missingOf(project, id)) {
    const { hash, key, inputs } = now;
    const changed = new AbortController();
    const isWanted = async () => {
      const { document } = await openProject(project);
      return wantedOf(document, id, await sourcesOf(document)).some((one) => one.hash === hash);
    };
    const timer = setInterval(() => {
      void isWanted().then(
        (wanted) => !wanted && changed.abort(),
        () => undefined,
      );
    }, LOOK_MS);
    const either = AbortSignal.any([signal, changed.signal]);
    try {
      if ("programme" in inputs) await measureProgramme(key, inputs, project, either, progress);
      else await itemRender(inputs, project, either, progress);
      measured = true;
    } catch (error) {
      if (!changed.signal.aborted || signal.aborted) throw error;
    } finally {
      clearInterval(timer);
    }
  }
  if (measured) await publish({ topic: "project", project });
}

/** A render that fails is told where a master is asked for; until then the figures stay estimates. */
export const itemFiguresFailed = async (): Promise<void> => undefined;
