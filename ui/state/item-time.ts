import type { EditList } from "@core/edit-list/edit-list";

/** What is counted in. */
export interface Timed {
  editList: EditList;
  sampleRate: number;
}

/** Frame of the item at seconds of it: what listening and measuring count in. */
export const itemFrame = ({ sampleRate, editList }: Timed, seconds: number): number =>
  Math.max(0, Math.min(editList.frames, Math.round(seconds * sampleRate)));

/** Frame of the recording that is heard at seconds of the item: what markers and repairs are kept by. */
export const recordingFrame = (timed: Timed, seconds: number): number =>
  timed.editList.toRecording(itemFrame(timed, seconds));

/** Where in the item a frame of the recording is heard; `null` where it is cut out. */
export function secondsOfRecording({ editList, sampleRate }: Timed, frame: number): number | null {
  const at = editList.toItem(frame);
  return at === null ? null : at / sampleRate;
}
