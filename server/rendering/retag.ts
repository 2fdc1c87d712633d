/**
 * Masters of which only what stands in the header has changed: the sound of the one that there is, with another header.
 * The same bytes as a render, in a moment; what was measured of the sound holds.
 */
import { rm } from "node:fs/promises";
import { join } from "node:path";
import { openSoundFile } from "@core/files/open";
import { soundInputs, type MasterInputs } from "@core/project/master-inputs";
import type { Master } from "@core/project/views";
import { writeWithTags } from "@core/delivery/retag";
import { isOwnContainer, isRetaggable } from "@core/files/containers";
import { blobs, withBlob } from "../storage/blobs";
import { FileSink } from "../storage/byte-files";
import { row } from "../db/database";
import { retagEncoded } from "../media/encode";
import { codedSoundHash } from "../media/video";

/** A finished master with the same sound. */
export interface SameSoundMaster {
  file_hash: string;
  sound_hash: string | null;
  result: NonNullable<Master["result"]>;
  drawings: unknown;
}

export async function masterWithSameSound(project: string, inputs: MasterInputs): Promise<SameSoundMaster | undefined> {
  const { container } = inputs.recipe.format;
  if (!isRetaggable(container)) return undefined;
  const found = await row<SameSoundMaster>(
    `select file_hash, sound_hash, result, drawings from master
     where project_id = $1 and state = 'done' and inputs - 'tags' - 'cover' = $2::jsonb order by finished_at desc limit 1`,
    [project, JSON.stringify(soundInputs(inputs))],
  );
  return found && (await blobs.isWhole(found.file_hash)) ? found : undefined;
}

/** Writes a master with the sound of another. @returns its path; `undefined` where the sound would not stay the same */
export async function retag(
  { file_hash, result }: SameSoundMaster,
  inputs: MasterInputs,
  folder: string,
  signal: AbortSignal,
): Promise<string | undefined> {
  const out = join(folder, "retagged");
  const { recipe, layout, tags, cover } = inputs;
  const { figures } = result;
  if (isOwnContainer(recipe.format.container)) {
    await withBlob(file_hash, async (bytes) => {
      const sink = await FileSink.create(out);
      try {
        const file = (await openSoundFile(bytes))!;
        await writeWithTags(file, sink, { recipe, layout, tags, figures, cancellation: signal });
        await sink.sync();
      } finally {
        await sink.close();
      }
    });
    return out;
  }
  const sound = await blobs.fileOf(file_hash);
  const encoding = { sound, out, folder, format: recipe.format, tags, seconds: figures.durationSeconds };
  await retagEncoded({ ...encoding, cover: cover && (await blobs.fileOf(cover)) }, signal);
  if ((await codedSoundHash(sound, signal)) === (await codedSoundHash(out, signal))) return out;
  await rm(out, { force: true });
  return undefined;
}
