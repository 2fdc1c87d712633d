/** Masters of the whole programme, and the files that they are cut into. */
import type { FrameSource } from "@core/audio/frame-source";
import { openSoundFile } from "@core/files/open";
import type { MasterJob, MasterResult } from "@core/delivery/master-job";
import { renderMaster } from "@core/delivery/render-master";
import { programmeProblem, type MasterInputs } from "@core/project/master-inputs";
import type { ProgrammeInputs } from "@core/project/programme-inputs";
import { programmeSound } from "@core/project/programme-sound";
import type { Master } from "@core/project/views";
import { drawingsOf } from "@core/report/drawings";
import { rows } from "../db/database";
import { blobs } from "../storage/blobs";
import { hashFile, openFile, type OpenFile } from "../storage/byte-files";
import { itemRender } from "./item-renders";
import { MasterFile } from "./master-file";
import { makeCut } from "./programme-cut";

type Tell = (stage: string, fraction: number) => void;

/** The whole before its own chain: every item after its chain, read while it is used. @throws Cancelled */
export async function withProgramme<Result>(
  programme: ProgrammeInputs,
  project: string,
  nameOf: (item: string) => string,
  signal: AbortSignal,
  tell: Tell,
  read: (sum: FrameSource) => Promise<Result>,
): Promise<Result> {
  const problem = programmeProblem({ programme }, nameOf);
  if (problem) throw new Error(problem);
  const opened: OpenFile[] = [];
  try {
    const sounds = new Map<string, FrameSource>();
    for (const [index, { id, render }] of programme.items.entries()) {
      const { pcmHash } = await itemRender(render, project, signal, (stage, fraction) =>
        tell(`“${nameOf(id)}”: ${stage}`, (index + fraction) / programme.items.length),
      );
      const bytes = await blobs.open(pcmHash);
      opened.push(bytes);
      sounds.set(id, (await openSoundFile(bytes))!);
    }
    return await read(programmeSound(programme, (id) => sounds.get(id)!));
  } finally {
    for (const bytes of opened) await bytes.close();
  }
}

/** Renders the master of the whole. @throws Cancelled */
export const renderProgramme = (
  { programme, recipe, layout, tags }: MasterInputs & { programme: ProgrammeInputs },
  project: string,
  nameOf: (item: string) => string,
  file: MasterFile,
  signal: AbortSignal,
  tell: Tell,
): Promise<MasterResult> =>
  withProgramme(programme, project, nameOf, signal, tell, (source) => {
    const job: MasterJob = { source, layout, sourceBits: null, recipe, tags };
    return renderMaster(job, file, {
      cancellation: signal,
      onProgress: ({ stage, fraction }) => tell(stage, fraction),
    });
  });

/** Files of the programme that wait for the whole of exactly these settings. */
export const cutsWaitingFor = ({ project_id, deliverable_id, inputs }: Master): Promise<Master[]> =>
  rows<Master>(
    `select * from master where project_id = $1 and deliverable_id = $2 and state in ('waiting', 'rendering')
       and inputs ? 'cut' and inputs->'programme' = $3::jsonb and inputs->'recipe' = $4::jsonb`,
    [project_id, deliverable_id, JSON.stringify(inputs.programme), JSON.stringify(inputs.recipe)],
  );

export interface MadeCut {
  master: Master;
  hash: string;
  bytes: number;
  soundHash: string | null;
  result: NonNullable<Master["result"]>;
  drawings: unknown;
}

/**
 * Cuts the sound of a finished programme into its files, and measures each. Put one after the other they are the
 * programme, sample for sample, where nothing encodes them with loss.
 */
export async function makeCuts(
  whole: MasterFile,
  wholeResult: Omit<MasterResult, "curves">,
  cuts: readonly Master[],
  signal: AbortSignal,
  tell: Tell,
): Promise<MadeCut[]> {
  const bytes = await openFile(whole.soundPath);
  try {
    const sound = (await openSoundFile(bytes))!;
    const made: MadeCut[] = [];
    for (const [index, master] of cuts.entries()) {
      tell("writing the files of the items", index / cuts.length);
      const { recipe, tags, cover } = master.inputs;
      const about = { format: recipe.format, tags, cover: cover && (await blobs.fileOf(cover)), video: null };
      const file = new MasterFile(await blobs.workFolder(), about, signal);
      try {
        const { curves, ...result } = await makeCut(sound, wholeResult, master.inputs, file, signal);
        const soundHash = file.encode ? (await hashFile(file.soundPath)).hash : null;
        const adopted = await blobs.adopt(file.path);
        made.push({
          master,
          ...adopted,
          soundHash,
          drawings: drawingsOf(curves),
          result: { ...result, albumGainDb: null },
        });
      } finally {
        await file.close();
      }
    }
    return made;
  } finally {
    await bytes.close();
  }
}
