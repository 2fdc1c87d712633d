import { PersistentWorker } from "@playback/persistent-worker";
import type { EstimationAnswer, EstimationRequest } from "@playback/profile-estimation.worker";
import type { TailEstimate } from "@core/repair/reverb-estimation";
import type { NoiseProfile } from "@core/repair/noise-profile";
import type { NoiseProfileQuality } from "@core/repair/noise-profile-quality";
import { askWorker } from "@ui/workers/ask-worker";

export interface ProfileEstimate {
  /** `null` where the stretch is of no use. */
  profile: NoiseProfile | null;
  tail: TailEstimate | null;
  quality: NoiseProfileQuality;
}

/** Learns a noise, or a room's tail, from a stretch of a recording, in a worker. @throws Error with what is wrong */
export const estimateInBrowser = (request: EstimationRequest): Promise<ProfileEstimate> =>
  askWorker<EstimationAnswer>(
    new PersistentWorker(
      () => new Worker(new URL("@playback/profile-estimation.worker.ts", import.meta.url), { type: "module" }),
    ),
    request,
  );
