/** A programme to one file, and to the files that it is cut into. */
import { dirname, resolve } from "node:path";
import type { FrameSource } from "@core/audio/frame-source";
import { openSoundFile } from "@core/files/open";
import { renderMaster } from "@core/delivery/render-master";
import { programmeProblem, type MasterInputs } from "@core/project/master-inputs";
import { programmeSound } from "@core/project/programme-sound";
import { processedSource } from "@core/render/processed-source";
import { openFile } from "@server/storage/byte-files";
import { makeCut } from "@server/rendering/programme-cut";
import { withFrames } from "./input";
import { CliProblem } from "./outcome";
import { makeFile, type Rendered } from "./render-one";

export interface ProgrammeJob {
  /** Of the whole, or of any of its files. */
  inputs: MasterInputs;
  /** Where the whole goes; `null` where only its files are wanted. */
  out: string | null;
  cuts: readonly { inputs: MasterInputs; out: string }[];
  /** Path of a recording or a cover by its hash. */
  fileOf: (hash: string) => string;
  nameOf?: (item: string) => string;
  onProgress?: ((progress: { stage: string; fraction: number }) => void) | undefined;
}

export interface RenderedProgramme {
  whole: Rendered;
  cuts: Rendered[];
}

/** Opens all recordings, each once, for any number of passes. */
async function withAll<Result>(
  paths: readonly string[],
  work: (sources: ReadonlyMap<string, FrameSource>) => Promise<Result>,
  opened: ReadonlyMap<string, FrameSource> = new Map(),
): Promise<Result> {
  const [path, ...rest] = paths;
  if (path === undefined) return work(opened);
  return withFrames(path, ({ source }) => withAll(rest, work, new Map([...opened, [path, source]])));
}

/** @throws CliProblem where an item cannot stand in the programme */
export async function renderProgramme(job: ProgrammeJob): Promise<RenderedProgramme> {
  const { inputs, fileOf } = job;
  const { programme, recipe, layout, tags } = inputs;
  if (!programme) throw new CliProblem("This is no master of a programme.");
  const problem = programmeProblem(inputs, job.nameOf ?? ((item) => item));
  if (problem) throw new CliProblem(problem);
  const renders = new Map(programme.items.map(({ id, render }) => [id, render]));
  const paths = [...new Set([...renders.values()].map(({ source }) => fileOf(source)))];
  const folder = dirname(resolve(job.out ?? job.cuts[0]?.out ?? "."));
  const aboutOf = (one: MasterInputs) => ({
    format: one.recipe.format,
    tags: one.tags,
    cover: one.cover && fileOf(one.cover),
    video: null,
  });
  const cuts: Rendered[] = [];
  const whole = await makeFile(job.out, folder, aboutOf(inputs), (file) =>
    withAll(paths, async (sources) => {
      const source = programmeSound(programme, (id) => {
        const render = renders.get(id)!;
        return processedSource(sources.get(fileOf(render.source))!, render, render.layout);
      });
      const { curves: _, ...result } = await renderMaster({ source, layout, sourceBits: null, recipe, tags }, file, {
        onProgress: job.onProgress,
      });
      const bytes = await openFile(file.soundPath);
      try {
        const sound = (await openSoundFile(bytes))!;
        for (const cut of job.cuts)
          cuts.push(
            await makeFile(cut.out, folder, aboutOf(cut.inputs), async (part) => {
              const { curves: __, ...measured } = await makeCut(sound, result, cut.inputs, part);
              return measured;
            }),
          );
      } finally {
        await bytes.close();
      }
      return result;
    }),
  );
  return { whole, cuts };
}
