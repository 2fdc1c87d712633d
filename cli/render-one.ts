/** One master from one file: made beside its place and renamed, so that nothing half-written is ever left there. */
import { randomUUID } from "node:crypto";
import { mkdir, readdir, rename, rm } from "node:fs/promises";
import { dirname, extname, join, parse, resolve } from "node:path";
import { newTags, type Tags } from "@core/files/tags";
import type { Clip } from "@core/edit-list/clip";
import { Measurer, type Figures } from "@core/measure";
import { renderMaster } from "@core/delivery/render-master";
import type { MasterResult } from "@core/delivery/master-job";
import { albumGain } from "@core/delivery/normalisation";
import type { Recipe } from "@core/delivery/recipe";
import { stream } from "@core/audio/stage";
import { processedSource, type Processing } from "@core/render/processed-source";
import type { Layout } from "@core/audio/layout";
import { hashFile } from "@server/storage/byte-files";
import { MasterFile } from "@server/rendering/master-file";
import { processState, processMark } from "@server/storage/process-mark";
import { chooseLayout, withFrames } from "./input";
import { withLearned } from "./learning";

export interface RenderJob {
  input: string;
  out: string;
  recipe: Recipe;
  /** Name of the layout, where the file does not say. */
  layout?: string | Layout | undefined;
  clips?: Clip[] | null;
  tags?: Tags;
  cover?: string | null;
  albumGainDb?: number | null;
  onProgress?: ((progress: { stage: string; fraction: number }) => void) | undefined;
}

export interface Rendered extends Omit<MasterResult, "curves"> {
  bytes: number;
  sha256: string;
  /** Of the sound before it was encoded; `null` where nothing is encoded. */
  soundSha256: string | null;
}

const MAKING = ".making-";

const layoutOf = (asked: RenderJob["layout"], own: Layout | undefined, channels: number): Layout =>
  typeof asked === "object" ? asked : chooseLayout(asked, own, channels);

export async function renderOne(job: RenderJob): Promise<Rendered> {
  const { input, out, recipe, clips = null, cover = null, albumGainDb = null } = job;
  const tags = job.tags ?? newTags({ title: parse(input).name });
  const folder = join(dirname(resolve(out)), `${MAKING}${processMark()}-${randomUUID()}`);
  await mkdir(folder);
  const extension = extname(input).slice(1).toLowerCase();
  const file = new MasterFile(folder, {
    format: recipe.format,
    tags,
    cover,
    video: recipe.format.container === "video" ? { path: resolve(input), extension } : null,
  });
  try {
    const { curves: _, ...result } = await withFrames(input, async ({ source, layout: own, bits }) => {
      const layout = layoutOf(job.layout, own, source.channels);
      const repairs = await withLearned(recipe.repairs, source, layout);
      return renderMaster(
        { source, layout, sourceBits: bits, clips, recipe: { ...recipe, repairs }, tags, albumGainDb },
        file,
        { onProgress: job.onProgress },
      );
    });
    await file.finish();
    const soundSha256 = file.encode ? (await hashFile(file.soundPath)).hash : null;
    const { hash: sha256, bytes } = await hashFile(file.path);
    await rename(file.path, out);
    return { ...result, bytes, sha256, soundSha256 };
  } finally {
    await file.close();
  }
}

/** Figures of a file after its chain. */
export const workedFigures = (input: string, work: Processing, asked: RenderJob["layout"]): Promise<Figures> =>
  withFrames(input, async ({ source, layout: own }) => {
    const layout = layoutOf(asked, own, source.channels);
    const measurer = new Measurer({ sampleRate: source.sampleRate, layout });
    const repairs = await withLearned(work.repairs, source, layout);
    await stream(processedSource(source, { ...work, repairs }, layout), [], (block) => measurer.process(block));
    return measurer.result().figures;
  });

/** The gain that files share, where their spec keeps their relations; `null` where it does not. */
export async function sharedGain(
  { spec }: Pick<Recipe, "spec">,
  files: readonly { input: string; work: Processing; layout?: RenderJob["layout"] }[],
): Promise<number | null> {
  if (spec?.gainScope !== "album") return null;
  const figures: Figures[] = [];
  for (const { input, work, layout } of files) figures.push(await workedFigures(input, work, layout));
  return albumGain(spec, figures);
}

/** Removes what a process that is gone was making in a folder. */
export async function sweepMaking(folder: string): Promise<void> {
  for (const name of await readdir(folder))
    if (name.startsWith(MAKING) && processState(name.slice(MAKING.length)) === "gone")
      await rm(join(folder, name), { recursive: true, force: true });
}
