import { join } from "node:path";

/** Settings from the environment, with what a studio on one machine needs as default. */
export const config = {
  databaseUrl: process.env.RESONUM_DATABASE_URL ?? "",
  dataFolder: process.env.RESONUM_DATA ?? join(process.cwd(), "data"),
  /** Largest file taken in, bytes. */
  maxUploadBytes: Number(process.env.RESONUM_MAX_UPLOAD_BYTES ?? 64 * 2 ** 30),
  /** Left free on the disk whatever comes in, bytes. */
  keepFreeBytes: Number(process.env.RESONUM_KEEP_FREE_BYTES ?? 2 ** 30),
  packagesFolder: join(process.cwd(), "node_modules"),
  migrationsFolder: join(process.cwd(), "server", "migrations"),
};
