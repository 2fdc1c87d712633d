/**
 * The sweeper: the only one that removes blobs. It takes those that no row refers to and that nobody has touched for an
 * hour, and looks again under the row's lock before each; a dry run tells what it would take.
 */
import { config } from "../config";
import { row, rows, transaction } from "../db/database";
import { unlessBlobsStay } from "../db/locks";
import { blobs } from "./blobs";
import { log } from "../log";

/** What was let go of, or came, as lately as this is left alone. */
const GRACE = "interval '1 hour'";
/** Item renders that nothing asked for in this time can be made again. */
const UNUSED = `interval '${config.keepItemRendersDays} days'`;

export interface SweepReport {
  /** Item renders that were not used lately: their sound is let go of, and taken an hour later. */
  itemRenders: number;
  blobs: number;
  bytes: number;
}

/** Nothing is removed while a backup is made: it needs all blobs that were there when it began. */
const NOTHING: SweepReport = { itemRenders: 0, blobs: 0, bytes: 0 };

/** @param dryRun only tells */
export const sweep = async ({ dryRun }: { dryRun: boolean }): Promise<SweepReport> =>
  dryRun ? look(true) : ((await unlessBlobsStay(() => look(false))) ?? NOTHING);

async function look(dryRun: boolean): Promise<SweepReport> {
  const unused = `used_at < now() - ${UNUSED} and not exists (select 1 from item_render_segment where item_render_id = item_render.id)`;
  const renders = await rows<{ id: string }>(
    dryRun ? `select id from item_render where ${unused}` : `delete from item_render where ${unused} returning id`,
  );
  if (!dryRun)
    for (const table of ["programme_figures", "encoding_overshoot"])
      await rows(`delete from ${table} where used_at < now() - ${UNUSED}`);
  const candidates = await rows<{ hash: string; bytes: number | null }>(
    `select hash, bytes from blob where reference_count <= 0 and touched_at < now() - ${GRACE} order by touched_at`,
  );
  const swept: SweepReport = { itemRenders: renders.length, blobs: 0, bytes: 0 };
  for (const { hash, bytes } of candidates) {
    if (!dryRun && !(await removeUnreferenced(hash))) continue;
    swept.blobs++;
    swept.bytes += bytes ?? (await blobs.size(hash)) ?? 0;
  }
  if (!dryRun && swept.blobs > 0) log.info(swept, "swept");
  return swept;
}

/** Removes one, unless it was referred to or touched since; who adopts it meanwhile waits for the row. */
const removeUnreferenced = (hash: string): Promise<boolean> =>
  transaction(async (client) => {
    const free = await row(
      `select 1 from blob where hash = $1 and reference_count <= 0 and touched_at < now() - ${GRACE} for update`,
      [hash],
      client,
    );
    if (!free) return false;
    await blobs.remove(hash);
    await client.query("delete from blob where hash = $1", [hash]);
    return true;
  });
