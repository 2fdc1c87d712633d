import type { TimeContext } from "@core/audio/timecode";
import { useWorkspace } from "@ui/state/workspace-store";
import type { ItemFacts } from "@ui/state/current-item";
import { gridOfView } from "./draw-ruler";
import { useLanes } from "../state/lane-settings";
import { placeMarkers } from "../state/markers";
import { onGrid, snapped } from "./snapping";
import { windowNow } from "../state/time-window";

const SNAP_PIXELS = 7;

/** A time that was pointed at, drawn to what the person snaps to: grid, markers, playhead. */
export function snapTime(facts: ItemFacts, time: TimeContext, seconds: number, width: number): number {
  const { snap: to, quantised, timeFormat } = useLanes.getState();
  const view = windowNow(facts.duration);
  const grid = gridOfView(view, width, timeFormat, time);
  if (quantised) return Math.max(0, Math.min(facts.duration, onGrid(seconds, grid)));
  const places = placeMarkers(to.markers ? facts.item.markers : [], facts).flatMap(({ seconds: at, endSeconds }) =>
    endSeconds === null ? [at] : [at, endSeconds],
  );
  return snapped(seconds, {
    grid: to.grid ? grid : null,
    places: [...places, useWorkspace.getState().cursor],
    reach: ((view.end - view.start) / width) * SNAP_PIXELS,
  });
}
