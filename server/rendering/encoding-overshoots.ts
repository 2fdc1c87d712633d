/** What encoding adds to the peaks of items, measured on their loudest excerpts and kept by their sound. */
import type { EncodingOvershoot } from "@core/delivery/encoding-overshoot";
import { measureOvershoot } from "@core/delivery/measure-overshoot";
import { planOf } from "@core/delivery/render-plan";
import { openSoundFile } from "@core/files/open";
import { newTags } from "@core/files/tags";
import { itemRenderKey } from "@core/project/item-render-inputs";
import type { MeasuredOvershoot, WantedOvershoot } from "@core/project/wanted-overshoots";
import { rows } from "../db/database";
import { blobs, withBlob } from "../storage/blobs";
import { ensureFreeSpace } from "../storage/free-space";
import { itemRender } from "./item-renders";
import { MasterFile } from "./master-file";

/** Of silence: encoding adds nothing to it. */
const NOTHING: EncodingOvershoot = { limitingDb: [0], overshootDb: [0] };

/** What was measured of these; of sounds not measured yet, the latest of the same recording. */
export async function measuredOvershoots(wanted: readonly WantedOvershoot[]): Promise<MeasuredOvershoot[]> {
  if (wanted.length === 0) return [];
  const ordinals = wanted.map((_, index) => index);
  const found = await rows<{ index: number; exact: boolean; limiting_db: number[]; overshoot_db: number[] }>(
    `select w.index, o.key = w.key as exact, o.limiting_db, o.overshoot_db
     from unnest($1::int[], $2::text[], $3::text[], $4::text[]) as w (index, key, source, encoding)
     cross join lateral (
       select * from encoding_overshoot o where o.source = w.source and o.encoding = w.encoding
       order by o.key = w.key desc, o.used_at desc limit 1) o`,
    [
      ordinals,
      wanted.map(({ inputs }) => itemRenderKey(inputs)),
      wanted.map(({ inputs }) => inputs.source),
      wanted.map(({ encoding }) => encoding),
    ],
  );
  return found.map(({ index, exact: isExact, limiting_db: limitingDb, overshoot_db: overshootDb }) => {
    const { hash, encoding } = wanted[index]!;
    return { hash, encoding, isExact, limitingDb, overshootDb };
  });
}

/** Those that were not measured on their very sound. */
export async function unmeasuredOvershoots(wanted: readonly WantedOvershoot[]): Promise<WantedOvershoot[]> {
  const nameOf = ({ hash, encoding }: Pick<MeasuredOvershoot, "hash" | "encoding">) => `${hash} ${encoding}`;
  const measured = await measuredOvershoots(wanted);
  const there = new Set(measured.filter(({ isExact }) => isExact).map(nameOf));
  return wanted.filter((one) => !there.has(nameOf(one)));
}

/** Measures one, and keeps it. @throws Cancelled */
export async function keepOvershoot(
  { inputs, encoding, format }: WantedOvershoot,
  project: string,
  signal: AbortSignal,
  tell: (stage: string, fraction: number) => void,
): Promise<void> {
  const { pcmHash, curves, bits } = await itemRender(inputs, project, signal, tell);
  const folder = await blobs.workFolder();
  const tags = newTags({ title: "" });
  const file = new MasterFile(folder, { format, tags, cover: null, video: null }, signal, () =>
    ensureFreeSpace(folder),
  );
  try {
    const measured = await withBlob(pcmHash, async (bytes) => {
      const source = (await openSoundFile(bytes))!;
      const recipe = { repairs: [], chain: [], format };
      const plan = planOf({ source, layout: inputs.layout, sourceBits: bits, recipe, tags });
      return measureOvershoot(plan, curves, file, { cancellation: signal });
    });
    const { limitingDb, overshootDb } = measured ?? NOTHING;
    await rows(
      `insert into encoding_overshoot (key, source, encoding, limiting_db, overshoot_db) values ($1, $2, $3, $4, $5)
       on conflict (md5(key), md5(encoding)) do update set limiting_db = $4, overshoot_db = $5, used_at = now()`,
      [itemRenderKey(inputs), inputs.source, encoding, JSON.stringify(limitingDb), JSON.stringify(overshootDb)],
    );
  } finally {
    await file.close();
  }
}
