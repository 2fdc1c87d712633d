import { EditList } from "@core/edit-list/edit-list";
import type { Clip } from "@core/edit-list/clip";
import type { Figures } from "@core/measure";
import { drawingsOf } from "@core/report/drawings";
import { subjectOf } from "@core/project/subjects";
import { PROGRAMME_ID } from "@core/project/document";
import { type MasterInputs, masterInputs, masterKey, missingInputsWords } from "@core/project/master-inputs";
import { fadedSource } from "@core/project/programme-sound";
import { itemOf, type Item } from "@core/project/document";
import { openMaster } from "@core/project/stored-master";
import { knownRecordings, type Master, type Source } from "@core/project/views";
import { openSoundFile } from "@core/files/open";
import { renderMaster } from "@core/delivery/render-master";
import type { MasterJob, MasterResult } from "@core/delivery/master-job";
import { fileName } from "@core/project/file-name";
import { masterNames } from "@core/project/filename-pattern";
import { CONTAINER_ABOUT } from "@core/files/containers";
import { albumGain } from "@core/delivery/normalisation";
import { blobs, withBlob } from "../storage/blobs";
import { hashFile } from "../storage/byte-files";
import { row, rows, transaction, type Queryable } from "../db/database";
import { ProgressPublisher, publish } from "../db/notifications";
import { log } from "../log";
import { MasterFile, type MasterFileOptions } from "./master-file";
import { notFound, Problem } from "../problem";
import { openProject } from "../projects/projects";
import { masterWithSameSound, retag } from "./retag";
import type { JobContext } from "../queue/job-runner";
import { dropJob, enqueue, prioritise } from "../queue/queue";
import { findSources, sourceOf } from "../projects/sources";
import { emitWebhookEvent } from "../webhooks/webhooks";
import { ensureFreeSpace, explainDiskFull } from "../storage/free-space";
import { itemRender } from "./item-renders";
import { cutsWaitingFor, makeCuts, renderProgramme, type MadeCut } from "./programme";

/** All but what only reports draw. */
const COLUMNS =
  "id, project_id, item_id, deliverable_id, key, inputs, state, problem, file_hash, file_bytes, sound_hash, result, requested_at, finished_at";

export const mastersOf = async (project: string): Promise<Master[]> =>
  (await rows<Master>(`select ${COLUMNS} from master where project_id = $1 order by requested_at desc`, [project])).map(
    openMaster,
  );

export async function masterOf(id: string): Promise<Master> {
  const master = await row<Master>(`select ${COLUMNS} from master where id = $1`, [id]);
  if (!master) throw notFound("master");
  return openMaster(master);
}

/**
 * Asks for the master of an item, or of the programme, and a deliverable as they are now; gives the one there is when
 * nothing changed.
 * @param again whether it is rendered even so
 */
export async function requestMaster(
  project: string,
  itemId: string,
  deliverableId: string,
  again = false,
): Promise<Master> {
  const { document } = await openProject(project);
  const item = subjectOf(document, itemId);
  const deliverable = document.deliverables.find(({ id }) => id === deliverableId);
  if (!item || !deliverable) throw notFound("item or deliverable");
  const recordings = await findSources(document.sources.map(({ hash }) => hash));
  refuseUnread(item, recordings);
  const inputs = masterInputs(document, item, deliverable, knownRecordings(recordings));
  if (!inputs) throw new Problem(422, "Not ready", missingInputsWords(document, item));
  const key = masterKey(inputs);
  const isLost = await isLostMaster(project, itemId, deliverableId, key);
  const seconds = inputs.programme ? inputs.programme.frames / inputs.programme.sampleRate : null;
  const figures = seconds
    ? { durationSeconds: seconds, channels: inputs.layout.speakers.length }
    : (recordings.find(({ hash }) => hash === inputs.source)?.figures ?? null);
  const asked = await transaction(async (client) => {
    const found = await row<Master>(
      `insert into master (project_id, item_id, deliverable_id, key, inputs) values ($1, $2, $3, $4, $5)
       on conflict (project_id, item_id, deliverable_id, md5(key)) do update set requested_at = now()
       returning *, (xmax = 0) as created`,
      [project, itemId, deliverableId, key, JSON.stringify(inputs)],
      client,
    );
    const master = found as Master & { created: boolean };
    const isDone = master.state === "done" && !isLost && !again;
    if (!master.created && (isDone || isBusy(master))) return master;
    await client.query("update master set state = 'waiting', problem = null where id = $1", [master.id]);
    if (!inputs.cut) await enqueueRender(master, figures, client);
    await publish({ topic: "master", project, master: master.id, state: "waiting" }, client);
    return { ...master, state: "waiting" as const };
  });
  // A file of the programme is cut from the whole, which is rendered for it.
  if (inputs.cut && asked.state === "waiting") await requestMaster(project, PROGRAMME_ID, deliverableId, true);
  return asked;
}

/** @throws Problem where a recording that the item needs is not there yet */
function refuseUnread(item: Item, recordings: readonly Source[]): void {
  const source = recordings.find(({ hash }) => hash === item.source);
  if (source?.state === "ready" && source.layout) return;
  const why = source?.problem ? `: ${source.problem}` : "";
  throw new Problem(422, "Not ready", `“${item.name}” is still being read${why}.`);
}

/** Whether it was finished and its file is missing or damaged: it is rendered again, to the same bytes. */
async function isLostMaster(project: string, item: string, deliverable: string, key: string): Promise<boolean> {
  const found = await row<{ file_hash: string }>(
    `select file_hash from master where project_id = $1 and item_id = $2 and deliverable_id = $3 and md5(key) = md5($4)
       and state = 'done'`,
    [project, item, deliverable, key],
  );
  return found !== undefined && !(await blobs.isWhole(found.file_hash));
}

const isBusy = ({ state }: Master): boolean => state === "waiting" || state === "rendering";

/** Seconds of a worker for each second of a channel; what a long chain takes more is learned by the queue's pace. */
const RENDER_COST = 1 / 60;

export const enqueueRender = (
  { id, project_id: project }: Pick<Master, "id" | "project_id">,
  figures: Pick<Figures, "durationSeconds" | "channels"> | null,
  client: Queryable,
): Promise<void> => {
  const costSeconds = 1 + (figures ? figures.durationSeconds * figures.channels * RENDER_COST : 0);
  return enqueue({ queue: "render", subject: id, project, costSeconds }, client);
};

/** The name of a master's file, by the project's pattern as it is now. */
export async function masterFileName(master: Master): Promise<{ name: string; mediaType: string }> {
  const { document } = await openProject(master.project_id);
  const { container } = master.inputs.recipe.format;
  const { extension, mediaType } = CONTAINER_ABOUT[container];
  const cell = masterNames(document).find(
    ({ item, deliverable }) => item.id === master.item_id && deliverable.id === master.deliverable_id,
  );
  // Taken out of the project since: called by what it says of itself.
  const name = cell
    ? cell.name
    : `${fileName(`${master.inputs.tags.title} - ${master.inputs.recipe.spec?.id ?? "master"}`)}.${extension || "mp4"}`;
  return { name, mediaType };
}

/** Puts a waiting master before all others. */
export async function prioritiseMaster(id: string): Promise<void> {
  await masterOf(id);
  await prioritise("render", id);
}

/** With a programme go the files that were to be cut from it. */
const ITSELF_OR_ITS_CUTS = `(id = $1 or (inputs ? 'cut' and exists (
  select 1 from master whole where whole.id = $1 and not whole.inputs ? 'cut'
    and whole.project_id = master.project_id and whole.deliverable_id = master.deliverable_id
    and whole.inputs->'programme' = master.inputs->'programme')))`;

export async function cancelMaster(id: string): Promise<void> {
  const { project_id } = await masterOf(id);
  await transaction(async (client) => {
    await dropJob("render", id, client);
    await client.query(
      `update master set state = 'cancelled' where state in ('waiting', 'rendering') and ${ITSELF_OR_ITS_CUTS}`,
      [id],
    );
    await publish({ topic: "master", project: project_id, master: id, state: "cancelled" }, client);
  });
}

/** The job: renders, reads back, measures. Safe to run again: the same inputs give the same bytes. */
export async function renderMasterJob({ subject: id, signal, progress, end }: JobContext): Promise<void> {
  const master = await masterOf(id);
  if (master.state === "done") return;
  const { inputs, project_id: project } = master;
  await rows("update master set state = 'rendering' where id = $1 and state = 'waiting'", [id]);
  const teller = new ProgressPublisher(
    (told) =>
      void publish({ topic: "master", project, master: id, state: "rendering", progress: told }).catch(() => undefined),
  );
  const told = (stage: string, fraction: number) => {
    progress(stage, fraction);
    teller.tell(stage, fraction);
  };
  const folder = await blobs.workFolder();
  const file = new MasterFile(folder, await aboutOf(inputs), signal, () => ensureFreeSpace(folder));
  try {
    const waiting = inputs.programme ? await cutsWaitingFor(master) : [];
    const same = waiting.length === 0 ? await retagged(master, file.folder, signal) : undefined;
    const rendered = same ?? (await rendering(master, file, signal, told));
    // Asked for again: more may have been wanted meanwhile.
    const wanted = inputs.programme && !same ? await cutsWaitingFor(master) : [];
    const cuts = wanted.length === 0 ? [] : await makeCuts(file, rendered.result, wanted, signal, told);
    const whole = { ...rendered, ...(await blobs.adopt(rendered.path)), master };
    await transaction(async (client) => {
      await end(client);
      for (const made of [whole, ...cuts]) await keepMaster(made, client);
    });
    const { verdict, attempts } = rendered.result;
    log.info({ master: id, pass: verdict?.pass, attempts }, "rendered");
  } catch (error) {
    throw explainDiskFull(error as Error);
  } finally {
    await file.close();
  }
}

/** Writes what came of a master. */
async function keepMaster({ master: { id }, hash, bytes, result, soundHash, drawings }: MadeCut, client: Queryable) {
  const kept = await row<Pick<Master, "project_id" | "item_id" | "deliverable_id">>(
    `update master set state = 'done', problem = null, file_hash = $2, file_bytes = $3, result = $4, sound_hash = $5,
       drawings = $6, finished_at = now() where id = $1 returning project_id, item_id, deliverable_id`,
    [id, hash, bytes, JSON.stringify(result), soundHash, JSON.stringify(drawings)],
    client,
  );
  if (!kept) return;
  const { project_id: project, item_id: item, deliverable_id: deliverable } = kept;
  await publish({ topic: "master", project, master: id, state: "done" }, client);
  const { figures, verdict } = result;
  const { integratedLufs, truePeakDbtp } = figures;
  const pass = verdict?.pass ?? null;
  const about = { master: id, item, deliverable, sha256: hash, pass, integratedLufs, truePeakDbtp };
  await emitWebhookEvent("master.verified", project, about, client);
}

interface RenderedFile {
  path: string;
  result: NonNullable<Master["result"]>;
  soundHash: string | null;
  drawings: unknown;
}

/** The sound of a master that there is under another header, where nothing else has changed. */
async function retagged(
  { project_id: project, inputs }: Master,
  folder: string,
  signal: AbortSignal,
): Promise<RenderedFile | undefined> {
  const same = await masterWithSameSound(project, inputs);
  const path = same && (await retag(same, inputs, folder, signal));
  return path ? { path, result: same.result, soundHash: same.sound_hash, drawings: same.drawings } : undefined;
}

async function rendering(
  { inputs, project_id: project }: Master,
  file: MasterFile,
  signal: AbortSignal,
  told: (stage: string, fraction: number) => void,
): Promise<RenderedFile> {
  const { curves, ...result } = await renderInputs(inputs, project, file, signal, told);
  await file.finish();
  const soundHash = file.encode ? (await hashFile(file.soundPath)).hash : null;
  return { path: file.path, result, soundHash, drawings: drawingsOf(curves) };
}

/** What a master needs beside its sound, as files of this machine. */
async function aboutOf({ recipe, tags, cover, source: hash }: MasterInputs): Promise<MasterFileOptions> {
  const { format } = recipe;
  const source = await sourceOf(hash);
  const extension = /\.([a-z0-9]{2,4})$/i.exec(source.name)?.[1]?.toLowerCase() ?? "mp4";
  return {
    format,
    tags,
    cover: cover && (await blobs.fileOf(cover)),
    video: source.container?.includes("picture")
      ? {
          path: await blobs.fileOf(hash),
          extension,
          track: source.track,
          language: source.tracks?.[source.track]?.language ?? null,
        }
      : null,
  };
}

/** Renders a master from its inputs into a file. @throws Cancelled */
export async function renderInputs(
  inputs: MasterInputs,
  project: string,
  file: MasterFile,
  signal: AbortSignal,
  told: (stage: string, fraction: number) => void,
): Promise<MasterResult & { albumGainDb: number | null }> {
  const { source, layout, clips, recipe, coreVersion, programme, fades } = inputs;
  if (programme) {
    const { document } = await openProject(project);
    const nameOf = (id: string) => itemOf(document, id)?.name ?? id;
    const result = await renderProgramme({ ...inputs, programme }, project, nameOf, file, signal, told);
    return { ...result, albumGainDb: null };
  }
  const work = { source, layout, clips, repairs: recipe.repairs, chain: recipe.chain, coreVersion };
  refuseCutVideo(inputs, await sourceOf(source));
  const albumGainDb = await gainOfAlbum(inputs, project, signal, told);
  const { pcmHash, bits, figures, curves } = await itemRender(work, project, signal, told);
  return withBlob(pcmHash, async (bytes) => {
    const sound = (await openSoundFile(bytes))!;
    const job: MasterJob = {
      source: fades ? fadedSource(sound, layout, fades) : sound,
      layout,
      sourceBits: fades ? null : bits,
      recipe: { ...recipe, repairs: [], chain: [] },
      tags: inputs.tags,
      albumGainDb,
      known: fades ? undefined : { figures, curves },
    };
    const result = await renderMaster(job, file, {
      cancellation: signal,
      onProgress: ({ stage, fraction }) => told(stage, fraction),
    });
    return { ...result, albumGainDb };
  });
}

/** Sound that was cut or moved would not be in time with a picture that was not. */
function refuseCutVideo({ clips, recipe }: MasterInputs, { figures, container }: Source): void {
  if (recipe.format.container !== "video") return;
  if (!container?.includes("picture"))
    throw new Error("The recording has no picture: choose another kind of file for this deliverable.");
  if (figures && clips && !keepsTime(clips, figures.frames))
    throw new Error(
      "This item was cut or moved, and its picture was not: open its cuts again, or deliver the sound by itself.",
    );
}

/** Whether every place of the recording is heard when it was; what was silenced or replaced keeps its length. */
function keepsTime(clips: readonly Clip[], recorded: number): boolean {
  const { placed, frames } = new EditList(clips, recorded);
  return frames === recorded && placed.every(({ clip, at }) => clip.kind !== "recording" || clip.start === at);
}

/** The gain that all items of the running order share, where the spec keeps their relations. */
async function gainOfAlbum(
  { album, recipe }: MasterInputs,
  project: string,
  signal: AbortSignal,
  told: (stage: string, fraction: number) => void,
): Promise<number | null> {
  if (!album || !recipe.spec) return null;
  const figures: Figures[] = [];
  for (const [index, work] of album.entries()) {
    const worked = await itemRender(work, project, signal, (stage, fraction) =>
      told(`the running order: ${stage}`, (index + fraction) / album.length),
    );
    figures.push(worked.figures);
  }
  return albumGain(recipe.spec, figures);
}

/** Says why a master could not be rendered. */
export async function renderFailed(id: string, why: string, client: Queryable): Promise<void> {
  const failed = await row<{ project_id: string }>(
    `update master set state = 'failed', problem = $2 where state in ('waiting', 'rendering') and ${ITSELF_OR_ITS_CUTS}
     returning project_id`,
    [id, why],
    client,
  );
  if (failed) await publish({ topic: "master", project: failed.project_id, master: id, state: "failed" }, client);
}
