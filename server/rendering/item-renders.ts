/**
 * Items after their chain, made once for all their masters. Long ones are made in segments that any worker may take;
 * whoever finds all of them done joins them. A worker that dies leaves its segment to the next.
 */
import { readCurves, readWaveformPeaksHeader } from "@core/measure/waveform-peaks-file";
import { openSoundFile } from "@core/files/open";
import type { FrameSource } from "@core/audio/frame-source";
import { WavWriter } from "@core/files/wav-writer";
import type { Figures, Measured } from "@core/measure";
import { itemRenderInputsSchema, itemRenderKey, type ItemRenderInputs } from "@core/project/item-render-inputs";
import { BLOCK_FRAMES, type StreamRange } from "@core/audio/stage";
import { Cancelled } from "@core/audio/cancellation";
import { isUnprocessed, preparedSource, processedSource, renderSegments } from "@core/render/processed-source";
import { framesOf, type Planar } from "@core/audio/units";
import { blobs, withBlob } from "../storage/blobs";
import { row, rows, transaction } from "../db/database";
import { prepareRecording } from "../ingest/ingest";
import { log } from "../log";
import { enqueue } from "../queue/queue";
import type { JobContext } from "../queue/job-runner";
import { sourceOf } from "../projects/sources";

/** A segment whose worker has not been heard of for so long is taken by another, under a claim of its own. */
const CLAIM_SECONDS = 6;
const RENEW_MS = 1500;
const WAIT_MS = 150;
/** What a segment is expected to take. */
const SEGMENT_COST_SECONDS = 30;
/** Stands for joining the segments. */
const JOIN = -1;

interface ItemRenderRow {
  id: string;
  inputs: ItemRenderInputs;
  state: "waiting" | "done";
  pcm_hash: string | null;
  overview_hash: string | null;
  figures: Figures | null;
}

/** Sound of an item after its chain, with what was measured of it. */
export interface ItemRender extends Measured {
  pcmHash: string;
  /** Depth, where the sound is the recording's own. */
  bits: number | null;
}

/** Level curves of an overview. */
export const curvesOf = (hash: string) =>
  withBlob(hash, async (bytes) => readCurves(bytes, await readWaveformPeaksHeader(bytes)));

type Tell = (stage: string, fraction: number) => void;

/** The sound of an item after its chain; made if it is not there. @throws Cancelled */
export async function itemRender(
  inputs: ItemRenderInputs,
  project: string,
  signal: AbortSignal,
  tell: Tell,
): Promise<ItemRender> {
  if (isUnprocessed(inputs)) {
    const source = await sourceOf(inputs.source);
    if (!source.pcm_hash || !source.overview_hash || !source.figures) throw new Error("The recording is not prepared.");
    const curves = await curvesOf(source.overview_hash);
    return { pcmHash: source.pcm_hash, figures: source.figures, curves, bits: source.bits };
  }
  const found = (await row<ItemRenderRow>(
    `insert into item_render (key, inputs) values ($1, $2)
     on conflict (md5(key)) do update set used_at = now() returning *`,
    [itemRenderKey(inputs), JSON.stringify(inputs)],
  ))!;
  const done = (await isKept(found)) ? found : await finishItemRender(await begunAgain(found), project, signal, tell);
  const curves = await curvesOf(done.overview_hash!);
  return { pcmHash: done.pcm_hash!, figures: done.figures!, curves, bits: null };
}

/** Whether it is done, with its sound as it was kept. */
const isKept = async ({ state, pcm_hash, overview_hash }: ItemRenderRow): Promise<boolean> =>
  state === "done" && (await blobs.isWhole(pcm_hash!)) && (await blobs.isWhole(overview_hash!));

/** Begins again what is done and lost. */
async function begunAgain(render: ItemRenderRow): Promise<ItemRenderRow> {
  await rows("update item_render set state = 'waiting' where id = $1 and state = 'done'", [render.id]);
  return { ...render, state: "waiting" };
}

async function finishItemRender(
  render: ItemRenderRow,
  project: string,
  signal: AbortSignal,
  tell: Tell,
): Promise<ItemRenderRow> {
  await withPrepared(render.inputs, async (source) => {
    const segments = renderSegments(preparedSource(source, render.inputs).frames, source.sampleRate);
    await rows(
      `insert into item_render_segment (item_render_id, index)
       select w.id, index from item_render w, generate_series(${JOIN}, $2::int) as index
       where w.id = $1 and w.state = 'waiting' on conflict do nothing`,
      [render.id, segments.length - 1],
    );
    // As many helpers as there are segments; those that come too late find nothing to do.
    for (let helper = 1; helper < segments.length; helper++)
      await enqueue({
        queue: "segment",
        subject: `${render.id}/${helper}`,
        project,
        costSeconds: SEGMENT_COST_SECONDS,
      });
  });
  for (;;) {
    if (signal.aborted) throw new Cancelled();
    const idle = !(await renderNextSegment(render.id, signal, tell));
    if (idle) tell("waiting for other workers", (Date.now() / 1000) % 1); // who has a segment in hand answers for it
    const now = (await row<ItemRenderRow>("select * from item_render where id = $1", [render.id]))!;
    if (now.state === "done") return now;
    if (idle) await new Promise((resolve) => setTimeout(resolve, WAIT_MS));
  }
}

/** The job of a helper: takes segments as long as there are any. */
export async function renderPendingSegments({ subject, signal, progress }: JobContext): Promise<void> {
  const [id] = subject.split("/");
  while (!signal.aborted && (await renderNextSegment(id!, signal, progress)));
}

/** Takes one segment that nobody is on, or the joining where all are done; false where there is nothing to take. */
async function renderNextSegment(id: string, signal: AbortSignal, tell: Tell): Promise<boolean> {
  const taken = await row<Segment>(
    `with next as (
       select item_render_id, index from item_render_segment s
       where item_render_id = $1 and (state = 'waiting' or (state = 'taken' and taken_at < now() - make_interval(secs => ${CLAIM_SECONDS})))
         and (index <> ${JOIN} or not exists (
           select 1 from item_render_segment o where o.item_render_id = $1 and o.index <> ${JOIN} and o.state <> 'done'))
       order by (index = ${JOIN}), index limit 1 for update skip locked)
     update item_render_segment s set state = 'taken', taken_at = now(), claim = gen_random_uuid() from next
     where s.item_render_id = next.item_render_id and s.index = next.index
     returning s.index, s.claim,
       (select count(*)::int from item_render_segment where item_render_id = $1 and index <> ${JOIN}) as count,
       (select count(*)::int from item_render_segment where item_render_id = $1 and index <> ${JOIN} and state = 'done') as done`,
    [id],
  );
  if (!taken) return false;
  const render = (await row<ItemRenderRow>("select * from item_render where id = $1", [id]))!;
  const inputs = itemRenderInputsSchema.parse(render.inputs);
  const timer = setInterval(() => {
    void rows("update item_render_segment set taken_at = now() where claim = $1", [taken.claim]).catch(() => undefined);
  }, RENEW_MS);
  try {
    if (taken.index === JOIN) await join(id, inputs, taken, signal, tell);
    else await makeSegment(id, inputs, taken, signal, tell);
    return true;
  } catch (error) {
    await rows("update item_render_segment set state = 'waiting', claim = null where claim = $1", [taken.claim]).catch(
      () => undefined,
    );
    throw error;
  } finally {
    clearInterval(timer);
  }
}

interface Segment {
  index: number;
  claim: string;
  /** How many there are, and how many of them are done. */
  count: number;
  done: number;
}

async function withPrepared<Result>(
  inputs: ItemRenderInputs,
  use: (source: FrameSource) => Promise<Result>,
): Promise<Result> {
  const source = await sourceOf(inputs.source);
  if (!source.pcm_hash) throw new Error("The recording is not prepared.");
  return withBlob(source.pcm_hash, async (bytes) => use((await openSoundFile(bytes))!));
}

async function makeSegment(
  id: string,
  inputs: ItemRenderInputs,
  { index, count, done, claim }: Segment,
  signal: AbortSignal,
  tell: Tell,
): Promise<void> {
  await withPrepared(inputs, async (source) => {
    const worked = processedSource(source, inputs, inputs.layout);
    const range = renderSegments(worked.frames, worked.sampleRate)[index]!;
    const draft = await blobs.draft();
    try {
      const format = { sampleRate: worked.sampleRate, layout: inputs.layout, format: "32f" as const };
      const writer = await WavWriter.open(draft.sink(), format);
      for await (const block of blocksOf(worked, range, signal, (fraction) =>
        tell("repairs and chain", (done + fraction) / count),
      ))
        await writer.writeFloat(block, framesOf(block));
      await writer.finish();
      const { hash } = await draft.commit();
      await rows(
        "update item_render_segment set state = 'done', pcm_hash = $3 where item_render_id = $1 and claim = $2",
        [id, claim, hash],
      );
    } finally {
      await draft.discard();
    }
  });
}

async function* blocksOf(
  source: FrameSource,
  { start, end }: StreamRange,
  signal: AbortSignal,
  onProgress: (fraction: number) => void,
): AsyncGenerator<Planar> {
  for (let at = start; at < end; at += BLOCK_FRAMES) {
    if (signal.aborted) throw new Cancelled();
    yield await source.read(at, Math.min(BLOCK_FRAMES, end - at));
    onProgress((at - start) / (end - start));
  }
}

/** Puts the segments one after the other, and measures the whole. */
async function join(
  id: string,
  inputs: ItemRenderInputs,
  { count, claim }: Segment,
  signal: AbortSignal,
  tell: Tell,
): Promise<void> {
  const segments = await rows<{ pcm_hash: string }>(
    `select pcm_hash from item_render_segment where item_render_id = $1 and index <> ${JOIN} order by index`,
    [id],
  );
  const files = await Promise.all(segments.map(({ pcm_hash }) => blobs.open(pcm_hash)));
  const drafts = { pcm: await blobs.draft(), overview: await blobs.draft() };
  try {
    const parts = await Promise.all(files.map(async (bytes) => (await openSoundFile(bytes))!));
    const [first] = parts;
    const recording = {
      sampleRate: first!.sampleRate,
      channels: first!.channels,
      layout: inputs.layout,
      expectedFrames: parts.reduce((sum, { frames }) => sum + frames, 0),
      warnings: [],
      async *blocks(): AsyncGenerator<Planar, string[]> {
        for (const part of parts) yield* blocksOf(part, { start: 0, end: part.frames }, signal, () => undefined);
        return [];
      },
    };
    const prepared = await prepareRecording(recording, inputs.layout, drafts, signal, (fraction) =>
      tell("measuring", fraction),
    );
    const [pcm, overview] = [await drafts.pcm.commit(), await drafts.overview.commit()];
    await transaction(async (client) => {
      // What the segments were made into is theirs no more; the sweeper takes their sound.
      const { rowCount } = await client.query(
        "delete from item_render_segment where item_render_id = $1 and exists (select 1 from item_render_segment where claim = $2)",
        [id, claim],
      );
      if (!rowCount) throw new Cancelled();
      await client.query(
        "update item_render set state = 'done', pcm_hash = $2, overview_hash = $3, figures = $4 where id = $1",
        [id, pcm.hash, overview.hash, JSON.stringify(prepared.figures)],
      );
    });
    log.info({ work: id, segments: count }, "worked on");
  } finally {
    for (const file of files) await file.close();
    await drafts.pcm.discard();
    await drafts.overview.discard();
  }
}
