import { migrate } from "./database";

const holder = globalThis as typeof globalThis & { resonumReady?: Promise<void> };

/** Resolves once the database is migrated; tries again at the next call when that failed. */
export function ready(): Promise<void> {
  holder.resonumReady ??= migrate().catch((error: unknown) => {
    delete holder.resonumReady;
    throw error;
  });
  return holder.resonumReady;
}
