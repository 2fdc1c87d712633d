/** Lays a later recording on an earlier one, away from the page. */
import { timeMap, type TimeMap } from "@core/compare/time-map";
import { openSoundFile } from "@core/files/open";
import { httpSource } from "./http-source";

export interface TimeMapRequest {
  /** Where the two are: float32 WAV. */
  earlier: string;
  later: string;
}

export type TimeMapAnswer =
  | { type: "progress"; fraction: number }
  | { type: "done"; map: TimeMap | null }
  | { type: "failed"; message: string };

const scope = self as unknown as DedicatedWorkerGlobalScope;
const answer = (message: TimeMapAnswer) => scope.postMessage(message);
const open = async (url: string) => {
  const file = await openSoundFile(await httpSource(url, { ahead: 2 }));
  if (!file) throw new Error("A recording cannot be read.");
  return file;
};

scope.onmessage = async ({ data }: MessageEvent<TimeMapRequest>) => {
  try {
    const [earlier, later] = [await open(data.earlier), await open(data.later)];
    const map = await timeMap(earlier, later, (fraction) => answer({ type: "progress", fraction }));
    answer({ type: "done", map });
  } catch (error) {
    answer({ type: "failed", message: error instanceof Error ? error.message : String(error) });
  }
};
