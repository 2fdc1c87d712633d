/** Figures of a programme after its chain, measured without keeping its sound. */
import { BLOCK_FRAMES } from "@core/audio/stage";
import { Cancelled } from "@core/audio/cancellation";
import type { Planar } from "@core/audio/units";
import type { ProcessedProgramme } from "@core/project/programme-inputs";
import { processedSource } from "@core/render/processed-source";
import { rows } from "../db/database";
import { prepareRecording } from "../ingest/ingest";
import { blobs } from "../storage/blobs";
import { withProgramme } from "./programme";

/** Measures it, and keeps what was measured under its key. @throws Cancelled */
export async function measureProgramme(
  key: string,
  { programme, chain }: ProcessedProgramme,
  project: string,
  signal: AbortSignal,
  tell: (stage: string, fraction: number) => void,
): Promise<void> {
  const { layout } = programme;
  await withProgramme(
    programme,
    project,
    (id) => id,
    signal,
    tell,
    async (sum) => {
      const source = processedSource(sum, { repairs: [], chain }, layout);
      const recording = {
        sampleRate: source.sampleRate,
        channels: source.channels,
        layout,
        expectedFrames: source.frames,
        warnings: [],
        async *blocks(): AsyncGenerator<Planar, string[]> {
          for (let at = 0; at < source.frames; at += BLOCK_FRAMES) {
            if (signal.aborted) throw new Cancelled();
            yield await source.read(at, Math.min(BLOCK_FRAMES, source.frames - at));
          }
          return [];
        },
      };
      const overview = await blobs.draft();
      try {
        const { figures } = await prepareRecording(recording, layout, { pcm: null, overview }, signal, (fraction) =>
          tell("measuring", fraction),
        );
        const { hash } = await overview.commit();
        await rows(
          `insert into programme_figures (key, figures, overview_hash) values ($1, $2, $3)
         on conflict (md5(key)) do update set figures = $2, overview_hash = $3, used_at = now()`,
          [key, JSON.stringify(figures), hash],
        );
      } finally {
        await overview.discard();
      }
    },
  );
}
