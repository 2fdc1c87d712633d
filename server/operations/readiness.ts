/** Whether a studio can take work, told quickly and often. */
import { config } from "../config";
import { databaseTrouble, row } from "../db/database";
import { blobs } from "../storage/blobs";

/** Why it cannot, in sentences; nothing where it can. */
export async function readiness(): Promise<string[]> {
  const problems: string[] = [];
  try {
    await row("select 1");
  } catch (error) {
    problems.push(databaseTrouble(error)?.detail ?? "The database does not answer.");
  }
  const free = await blobs.free().catch(() => null);
  if (free === null) problems.push("The store cannot be reached.");
  else if (free < config.keepFreeBytes) problems.push("The store's disk is full.");
  return problems;
}
