import { operationsOverview } from "@server/operations/overview";
import { heavyRoute } from "../respond";

/** The studio's health, queue and backups. */
export const GET = heavyRoute(() => operationsOverview());
