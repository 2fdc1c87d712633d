import { operationsOverview } from "@server/operations/overview";
import { route } from "../respond";

/** The studio's queue, workers and backups. */
export const GET = route(() => operationsOverview());
