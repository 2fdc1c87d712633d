import { useDesk } from "@ui/state/workspace-store";

const TALLER_STEP_DB = 3;
const TALLEST_DB = 60;

/** Draws the waveform a step taller or lower. */
export function stretchWaveform(steps: number): void {
  const { tallerDb } = useDesk.getState();
  useDesk.setState({ tallerDb: Math.max(0, Math.min(TALLEST_DB, tallerDb + steps * TALLER_STEP_DB)) });
}
