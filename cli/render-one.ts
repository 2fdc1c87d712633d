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
import type { MasterInputs } from "@core/project/master-inputs";
import { fadedSource } from "@core/project/programme-sound";
import { stream } from "@core/audio/stage";
import { processedSource, type Processing } from "@core/render/processed-source";
import type { Layout } from "@core/audio/layout";
import { hashFile } from "@server/storage/byte-files";
import { MasterFile, type MasterFileOptions } from "@server/rendering/master-file";
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
  /** How the item comes and goes in its programme. */
  fades?: MasterInputs["fades"];
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

/** Makes a file beside its place, and puts it there once it is whole; with `out` null it is only worked with. */
export async function makeFile<Result>(
  out: string | null,
  folder: string,
  about: MasterFileOptions,
  work: (file: MasterFile) => Promise<Result>,
): Promise<Result & Pick<Rendered, "bytes" | "sha256" | "soundSha256">> {
  const making = join(folder, `${MAKING}${processMark()}-${randomUUID()}`);
  await mkdir(making);
  const file = new MasterFile(making, about);
  try {
    const result = await work(file);
    await file.finish();
    const soundSha256 = file.encode ? (await hashFile(file.soundPath)).hash : null;
    const { hash: sha256, bytes } = await hashFile(file.path);
    if (out !== null) await rename(file.path, out);
    return { ...result, bytes, sha256, soundSha256 };
  } finally {
    await file.close();
  }
}

export async function renderOne(job: RenderJob): Promise<Rendered> {
  const { input, out, recipe, clips = null, cover = null, albumGainDb = null, fades } = job;
  const tags = job.tags ?? newTags({ title: parse(input).name });
  const extension = extname(input).slice(1).toLowerCase();
  const video = recipe.format.container === "video" ? { path: resolve(input), extension } : null;
  return makeFile(out, dirname(resolve(out)), { format: recipe.format, tags, cover, video }, async (file) => {
    const { curves: _, ...result } = await withFrames(input, async ({ source, layout: own, bits }) => {
      const layout = layoutOf(job.layout, own, source.channels);
      const repairs = await withLearned(recipe.repairs, source, layout);
      const options = { onProgress: job.onProgress };
      if (!fades) {
        const plain = { source, layout, sourceBits: bits, clips, recipe: { ...recipe, repairs }, tags, albumGainDb };
        return renderMaster(plain, file, options);
      }
      const worked = processedSource(source, { repairs, clips, chain: recipe.chain }, layout);
      const faded = fadedSource(worked, layout, fades);
      const shaped = { ...recipe, repairs: [], chain: [] };
      return renderMaster(
        { source: faded, layout, sourceBits: null, recipe: shaped, tags, albumGainDb },
        file,
        options,
      );
    });
    return result;
  });
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
