/** A file of a programme, cut from the sound of the whole and measured: the same on the server and on the command line. */
import type { SoundFile } from "@core/files/sound-file";
import { isLossy } from "@core/files/containers";
import { check, partSpec } from "@core/delivery/compliance";
import { limitViolations } from "@core/delivery/limit-violations";
import type { MasterResult } from "@core/delivery/master-job";
import { fileFacts } from "@core/delivery/recipe";
import { masterLayout } from "@core/delivery/render-plan";
import { writeCut } from "@core/delivery/retag";
import { measureMaster } from "@core/delivery/verify-master";
import type { MasterInputs } from "@core/project/master-inputs";
import { framesInMaster } from "@core/project/programme-sound";
import type { MasterFile } from "./master-file";

/** What is said of files that an encoder lengthens. */
const ENCODED =
  "Encoders add some milliseconds at the ends of each file: played one after the other they do not join to the sample.";

/**
 * @param sound of the whole, before anything encodes it
 * @throws Error where nothing is left of the item
 */
export async function makeCut(
  sound: SoundFile,
  whole: Omit<MasterResult, "curves">,
  { recipe, layout, tags, programme, cut }: MasterInputs,
  file: MasterFile,
  signal?: AbortSignal,
): Promise<MasterResult> {
  const at = (frame: number) => Math.min(sound.frames, framesInMaster(frame, programme!.sampleRate, sound.sampleRate));
  const { start, end, ...fades } = cut!;
  const range = { start: at(start), end: at(end) };
  if (range.end <= range.start)
    throw new Error(`Nothing is left of “${tags.title}” in the programme: it lies wholly under the next item.`);
  const work = { recipe, layout, tags, ...(signal ? { cancellation: signal } : {}) };
  const describe = await writeCut(sound, await file.open(), range, { ...work, ...fades });
  await file.encode?.();
  const target = masterLayout(recipe, layout);
  const { figures, curves } = await measureMaster(await file.readBack(), target, recipe.spec, () => undefined);
  await describe(figures);
  await file.finish();
  const spec = recipe.spec && partSpec(recipe.spec);
  const { gainDb, limiterCeilingDbtp, levelling, limitingDb, attempts, dithered } = whole;
  return {
    ...{ gainDb, limiterCeilingDbtp, levelling, limitingDb, attempts, dithered },
    figures,
    curves,
    verdict: spec ? check(spec, figures, fileFacts(recipe.format, sound.sampleRate, target.name)) : null,
    places: spec ? limitViolations(spec, curves) : [],
    warnings: isLossy(recipe.format.container) ? [ENCODED] : [],
  };
}
