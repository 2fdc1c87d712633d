/** Looks a recording through for what lies in speech: breaths, marks, pauses. */
import { openSoundFile } from "@core/files/open";
import { featuresOf, type Features } from "@core/events/speech-features";
import { httpSource } from "./http-source";

export interface FeaturesRequest {
  url: string;
}

export type FeaturesAnswer =
  | { type: "progress"; fraction: number }
  | { type: "done"; features: Features }
  | { type: "failed"; message: string };

const scope = self as unknown as DedicatedWorkerGlobalScope;

async function look({ url }: FeaturesRequest): Promise<void> {
  const file = await openSoundFile(await httpSource(url));
  if (!file) throw new Error("The recording cannot be read.");
  const features = await featuresOf(file, {
    onProgress: (fraction) => scope.postMessage({ type: "progress", fraction } satisfies FeaturesAnswer),
  });
  const { level, low, middle, high, peak, voiced } = features;
  const moved = [level, low, middle, high, peak, voiced].map(({ buffer }) => buffer as ArrayBuffer);
  scope.postMessage({ type: "done", features } satisfies FeaturesAnswer, moved);
}

scope.onmessage = ({ data }: MessageEvent<FeaturesRequest>) => {
  look(data).catch((error: unknown) =>
    scope.postMessage({ type: "failed", message: error instanceof Error ? error.message : String(error) }),
  );
};
