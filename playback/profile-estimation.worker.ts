/** Learns a noise, or a room's tail, from a stretch of a recording as it is after the repairs that come before. */
import { openSoundFile } from "@core/files/open";
import type { RepairStep } from "@core/repair";
import { bandPass, type Band } from "@core/dsp/butterworth";
import { learnFromStretches, withinBand, type NoiseProfile } from "@core/repair/noise-profile";
import { noiseProfileQuality, type NoiseProfileQuality } from "@core/repair/noise-profile-quality";
import { estimateReverb, type TailEstimate } from "@core/repair/reverb-estimation";
import { repairedSource } from "@core/repair/repaired-source";
import type { Planar } from "@core/audio/units";
import type { StreamRange } from "@core/audio/stage";
import { httpSource } from "./http-source";
import { contentHashOf, RepairCache } from "./repair-cache";

export interface EstimationRequest {
  what: "noise" | "tail";
  url: string;
  /** Repairs that come before the one that learns. */
  steps: RepairStep[];
  /** Noise is learned of this band alone, and judged in it; absent for all of the spectrum. */
  band?: Band;
  /** Stretches of the recording; a tail is learned from the first. */
  ranges: StreamRange[];
}

export type EstimationAnswer =
  | {
      type: "done";
      /** What was learned; `null` where the stretch is of no use, or something else was asked for. */
      profile: NoiseProfile | null;
      tail: TailEstimate | null;
      quality: NoiseProfileQuality;
    }
  | { type: "failed"; message: string };

/** More tells no more. */
const LONGEST_SECONDS = { noise: 20, tail: 60 };

const scope = self as unknown as DedicatedWorkerGlobalScope;

/** A stretch without what lies outside of a band. */
function bandOf(stretch: Planar, band: Band, sampleRate: number): Planar {
  const inside = stretch.map((x) => x.slice());
  bandPass(band, inside.length, sampleRate).process(inside);
  return inside;
}

async function learn({ what, url, steps, ranges, band }: EstimationRequest): Promise<EstimationAnswer> {
  const file = await openSoundFile(await httpSource(url));
  if (!file) throw new Error("The recording cannot be read.");
  const source = repairedSource(file, steps, { content: contentHashOf(url), store: new RepairCache() });
  const stretches: Planar[] = [];
  for (const { start, end } of ranges) {
    const frames = Math.min(end - start, LONGEST_SECONDS[what] * file.sampleRate);
    stretches.push((await source.read(start, frames)).map((x) => x.slice()));
  }
  if (what === "tail") return { type: "done", profile: null, ...estimateReverb(stretches[0]!, file.sampleRate) };
  const quality = noiseProfileQuality(
    band ? stretches.map((stretch) => bandOf(stretch, band, file.sampleRate)) : stretches,
    file.sampleRate,
  );
  const learned = quality.standing === "error" ? null : learnFromStretches(stretches, file.sampleRate);
  return {
    type: "done",
    quality,
    tail: null,
    profile: learned && band ? withinBand(learned, band.low, band.high) : learned,
  };
}

scope.onmessage = ({ data }: MessageEvent<EstimationRequest>) => {
  learn(data).then(
    (answer) => scope.postMessage(answer),
    (error: unknown) =>
      scope.postMessage({ type: "failed", message: error instanceof Error ? error.message : String(error) }),
  );
};
