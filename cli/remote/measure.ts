/** Measuring by a studio, which keeps nothing of it. */
import { openAsBlob } from "node:fs";
import type { Figures } from "@core/measure";
import type { ReportDrawings } from "@core/report/drawings";
import { CliProblem } from "../outcome";
import { remoteProblem, studioOf, type RemoteOptions } from "./studio";

export interface MeasuredThere {
  figures: Figures;
  drawings: ReportDrawings;
  warnings: string[];
}

/** @throws CliProblem, ApiProblem that says what was wrong with the file */
export async function measureThere(file: string, options: RemoteOptions): Promise<MeasuredThere> {
  const body = await openAsBlob(file).catch(() => {
    throw new CliProblem("It is not there, or cannot be read.");
  });
  try {
    return await studioOf(options).call("POST /api/measure", { body });
  } catch (error) {
    throw remoteProblem(error, options.server!);
  }
}
