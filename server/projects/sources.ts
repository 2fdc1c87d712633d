/** Recordings: what is known of them, and having them read. */
import { randomUUID } from "node:crypto";
import { parse } from "node:path";
import type { Source } from "@core/project/views";
import { CORE_VERSION } from "@core/audio/core-version";
import { layoutSchema, type Layout } from "@core/audio/layout";
import { blobs } from "../storage/blobs";
import { row, rows, transaction, type Queryable } from "../db/database";
import { publish } from "../db/notifications";
import { notFound, Problem } from "../problem";
import { dropJob, enqueue } from "../queue/queue";

/** Figures that an older core made are as good as none: they are being made anew. */
const SELECT = "select *, case when core_version = $2 then figures end as figures from source";

/** In the order in which they are asked for: what has not changed stays the same for a page that fetches it again. */
export const findSources = (hashes: string[]): Promise<Source[]> =>
  rows<Source>(`${SELECT} where hash = any($1) order by array_position($1, hash)`, [hashes, CORE_VERSION]);

export async function sourceOf(hash: string): Promise<Source> {
  const source = await row<Source>(`${SELECT} where hash = $1`, [hash, CORE_VERSION]);
  if (!source) throw notFound("recording");
  return source;
}

/** Seconds that reading is expected to take: what is compressed holds more sound a byte. */
const expectedSeconds = (name: string, bytes: number): number =>
  0.5 + bytes / (/\.(wave?|rf64|bw64|aiff?|aifc|w64|caf)$/i.test(name) ? 25e6 : 1.5e6);

interface NewSource {
  hash: string;
  name: string;
  bytes: number;
  /** Whose share of the workers reading it takes; one that names it, unless it is said. */
  project?: string;
}

/** Whether a recording was read, and what was made of it is still there. */
export async function isAnalysed(hash: string): Promise<boolean> {
  const known = await row<{ state: string; pcm_hash: string | null; overview_hash: string | null }>(
    "select state, pcm_hash, overview_hash from source where hash = $1",
    [hash],
  );
  if (known?.state !== "ready" || !known.pcm_hash || !known.overview_hash) return false;
  return (await blobs.isWhole(known.pcm_hash)) && (await blobs.isWhole(known.overview_hash));
}

/** The command that adds a recording to a project, with an item that is all of it. */
export function addingCommand(hash: string, name: string) {
  const item = {
    id: randomUUID().slice(0, 8),
    name: withoutExtension(name),
    source: hash,
    repairs: [],
    chain: [],
    markers: [],
  };
  return { type: "addSource", source: { hash, name }, item };
}

const withoutExtension = (name: string): string => parse(name).name.slice(0, 200).trim() || name;

/** What a person chose of a recording before it came here. */
interface Chosen {
  layout: Layout | null;
  track: number;
}

/** Those that are here already stay as they are. */
const insertSource = ({ hash, name, bytes }: NewSource, client: Queryable, { layout, track }: Chosen) =>
  client.query(
    `insert into source (hash, name, bytes, layout, layout_chosen, track) values ($1, $2, $3, $4, $5, $6)
     on conflict do nothing`,
    [hash, name, bytes, layout && JSON.stringify(layout), layout !== null, track],
  );

/** Makes a recording of a blob, and has it read unless it was, in the transaction that keeps it. */
export async function addSource(
  source: NewSource,
  isRead: boolean,
  client: Queryable,
  chosen: Chosen = { layout: null, track: 0 },
): Promise<void> {
  await insertSource(source, client, chosen);
  if (!isRead) await readIt(source, client);
}

/** Whether a recording is to be read as soon as it arrives: it is not here, or could not be read. */
export const isAwaited = async (hash: string, client: Queryable): Promise<boolean> =>
  (await row("select 1 from source where hash = $1 and state = 'failed'", [hash], client)) !== undefined;

/** A recording that a project names and that is not here: it is found by its content once it arrives. */
export async function addMissingSource(source: NewSource, client: Queryable, chosen: Chosen): Promise<void> {
  await insertSource(source, client, chosen);
  await client.query("update source set state = 'failed', problem = $2 where hash = $1 and state = 'waiting'", [
    source.hash,
    `It did not come with the project: add “${source.name}”, and it is known by its content.`,
  ]);
}

/** Puts a recording in the queue. */
export async function enqueuePreparation(source: NewSource, client: Queryable): Promise<void> {
  const { hash, name, bytes } = source;
  const project = source.project ?? (await projectOf(hash, client));
  await enqueue({ queue: "prepare", subject: hash, project, costSeconds: expectedSeconds(name, bytes) }, client);
}

const projectOf = async (hash: string, client: Queryable): Promise<string | null> =>
  (await row<{ project_id: string }>("select project_id from project_blob where hash = $1 limit 1", [hash], client))
    ?.project_id ?? null;

async function readIt(source: NewSource, client: Queryable): Promise<void> {
  const { hash } = source;
  await client.query("update source set state = 'waiting', problem = null where hash = $1", [hash]);
  await enqueuePreparation(source, client);
  await publish({ topic: "source", hash, state: "waiting" }, client);
}

/** Puts a recording in the queue to be read and measured again. */
export async function prepareAgain(hash: string): Promise<void> {
  await transaction(async (client) => {
    const source = await row<{ name: string; bytes: number }>(
      "select name, bytes from source where hash = $1 for update",
      [hash],
      client,
    );
    if (!source) throw notFound("recording");
    await dropJob("prepare", hash, client);
    await readIt({ hash, ...source }, client);
    await deliverAgain(hash, client);
  });
}

/** What is delivered by itself is looked at again where another reading of a recording may change it. */
async function deliverAgain(hash: string, client: Queryable): Promise<void> {
  const projects = "(select project_id from project_blob where hash = $1)";
  await client.query(`update automatic_delivery set head = 0 where project_id in ${projects}`, [hash]);
  await client.query(`update project set delivered_head = null where id in ${projects}`, [hash]);
}

export async function cancelPreparation(hash: string): Promise<void> {
  await transaction(async (client) => {
    await dropJob("prepare", hash, client);
    await client.query(
      "update source set state = 'failed', problem = $2 where hash = $1 and state in ('waiting', 'preparing')",
      [hash, "Reading was cancelled. The original is kept; it can be read again at any time."],
    );
    await publish({ topic: "source", hash, state: "failed" }, client);
  });
}

/** Sets which channel is which, and measures anew: figures depend on it. */
export async function chooseLayout(hash: string, layout: Layout): Promise<void> {
  const source = await sourceOf(hash);
  const channels = source.figures?.channels;
  if (channels !== undefined && channels !== layout.speakers.length)
    throw new Problem(
      422,
      "Layout does not fit",
      `${layout.name} has ${layout.speakers.length} channels; the recording has ${channels}.`,
    );
  await rows("update source set layout = $2, layout_chosen = true where hash = $1", [
    hash,
    JSON.stringify(layoutSchema.parse(layout)),
  ]);
  await prepareAgain(hash);
}

/** Chooses one of a file's sound tracks, and reads it instead of the one before. */
export async function chooseTrack(hash: string, track: number): Promise<void> {
  const { tracks } = await sourceOf(hash);
  if (!tracks?.[track])
    throw new Problem(
      422,
      "No such sound track",
      `The file has ${tracks?.length ?? 1}; number ${track + 1} was asked for.`,
    );
  await rows(
    "update source set track = $2, layout = case when layout_chosen and $3 = jsonb_array_length(layout->'speakers') then layout end, layout_chosen = layout_chosen and $3 = jsonb_array_length(layout->'speakers') where hash = $1",
    [hash, track, tracks[track].channels],
  );
  await prepareAgain(hash);
}

/** Has the recordings read again whose figures an older core made. */
export async function prepareOutdated(): Promise<void> {
  const outdated = await rows<{ hash: string }>(
    "select hash from source where state = 'ready' and core_version is distinct from $1",
    [CORE_VERSION],
  );
  for (const { hash } of outdated) await prepareAgain(hash);
}
