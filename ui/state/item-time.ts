import type { EditList } from "@core/edit-list/edit-list";

/** What is counted in. */
export interface Timed {
  arrangement: EditList;
  sampleRate: number;
}

/** Frame of the item at seconds of it: what listening and measuring count in. */
export const itemFrame = ({ sampleRate, arrangement }: Timed, seconds: number): number =>
  Math.max(0, Math.min(arrangement.frames, Math.round(seconds * sampleRate)));

/** Frame of the recording that is heard at seconds of the item: what markers and repairs are kept by. */
export const recordingFrame = (timed: Timed, seconds: number): number =>
  timed.arrangement.toRecording(itemFrame(timed, seconds));

/** Where in the item a frame of the recording is heard; `null` where it is cut out. */
export function secondsOfRecording({ arrangement, sampleRate }: Timed, frame: number): number | null {
  const at = arrangement.toItem(frame);
  return at === null ? null : at / sampleRate;
}
