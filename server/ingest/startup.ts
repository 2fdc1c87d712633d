import { migrate } from "../db/database";
import { startUploads } from "./uploads";

const holder = globalThis as typeof globalThis & { resonumReady?: Promise<void> };

/** Resolves once the database is migrated and uploads are looked after; tries again at the next call when that failed. */
export function whenReady(): Promise<void> {
  holder.resonumReady ??= migrate()
    .then(startUploads)
    .catch((error: unknown) => {
      delete holder.resonumReady;
      throw error;
    });
  return holder.resonumReady;
}
