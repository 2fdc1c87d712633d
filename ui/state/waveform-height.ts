import { useWorkspace } from "@ui/state/workspace-store";

const TALLER_STEP_DB = 3;
const TALLEST_DB = 60;

/** Draws the waveform a step taller or lower. */
export function zoomWaveform(steps: number): void {
  const { waveformZoomDb } = useWorkspace.getState();
  useWorkspace.setState({ waveformZoomDb: Math.max(0, Math.min(TALLEST_DB, waveformZoomDb + steps * TALLER_STEP_DB)) });
}
