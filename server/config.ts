import { join } from "node:path";

/** Settings from the environment, with what a studio on one machine needs as default. */
export const config = {
  databaseUrl: process.env.RESONUM_DATABASE_URL ?? "",
  /** Where blobs lie: a folder, or "s3://bucket/prefix"; below the data folder unless said. */
  store: process.env.RESONUM_STORE ?? "",
  s3: {
    endpoint: process.env.RESONUM_S3_ENDPOINT ?? "",
    region: process.env.RESONUM_S3_REGION ?? "local",
    keyId: process.env.RESONUM_S3_KEY_ID ?? "",
    secret: process.env.RESONUM_S3_SECRET ?? "",
  },
  /** Addresses of what masters are handed over to, beside a folder. */
  receivers: {
    podcast: process.env.RESONUM_PODCAST_HOST ?? "",
    ingest: process.env.RESONUM_INGEST ?? "",
  },
  handoverFolder:
    process.env.RESONUM_HANDOVER ?? join(process.env.RESONUM_DATA ?? join(process.cwd(), "data"), "handed over"),
  /** Where this machine's database lies, so that its disk can be watched; empty where it is elsewhere. */
  databaseFolder: process.env.RESONUM_DATABASE_FOLDER ?? "",
  dataFolder: process.env.RESONUM_DATA ?? join(process.cwd(), "data"),
  /** Largest file taken in, bytes. */
  maxUploadBytes: Number(process.env.RESONUM_MAX_UPLOAD_BYTES ?? 64 * 2 ** 30),
  /** Left free on the disk whatever comes in, bytes. */
  keepFreeBytes: Number(process.env.RESONUM_KEEP_FREE_BYTES ?? 2 ** 30),
  /** Item renders that were not used for so long are swept: they can be made again. */
  keepItemRendersDays: Number(process.env.RESONUM_KEEP_ITEM_RENDERS_DAYS ?? 30),
  packagesFolder: join(process.cwd(), "node_modules"),
  migrationsFolder: join(process.cwd(), "server", "db", "migrations"),
};
