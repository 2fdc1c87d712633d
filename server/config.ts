import { join } from "node:path";
import * as z from "zod";

const count = (words: string, fallback: number) =>
  z
    .string()
    .default(String(fallback))
    .transform((text, context) => {
      const value = text.trim() === "" ? NaN : Number(text);
      if (Number.isFinite(value) && value >= 0) return value;
      context.addIssue({
        code: "custom",
        message: `“${text}” is no ${words}; write digits alone, such as ${fallback}`,
      });
      return z.NEVER;
    });

const environmentSchema = z.object({
  RESONUM_DATABASE_URL: z.string().default(""),
  RESONUM_STORE: z
    .string()
    .default("")
    .refine((store) => !/^\w+:\/\//.test(store) || /^s3:\/\/[^/]+/.test(store), {
      error: "a folder, or “s3://bucket/prefix”, is asked for",
    }),
  RESONUM_S3_ENDPOINT: z.string().default(""),
  RESONUM_S3_REGION: z.string().default("local"),
  RESONUM_S3_KEY_ID: z.string().default(""),
  RESONUM_S3_SECRET: z.string().default(""),
  RESONUM_PODCAST_HOST: z.string().default(""),
  RESONUM_INGEST: z.string().default(""),
  RESONUM_SUBMISSIONS: z.string().optional(),
  /** What RESONUM_SUBMISSIONS was called before. */
  RESONUM_HANDOVER: z.string().optional(),
  RESONUM_DATABASE_FOLDER: z.string().default(""),
  RESONUM_DATA: z.string().default(join(process.cwd(), "data")),
  RESONUM_MAX_UPLOAD_BYTES: count("number of bytes", 64 * 2 ** 30),
  RESONUM_KEEP_FREE_BYTES: count("number of bytes", 2 ** 30),
  RESONUM_KEEP_ITEM_RENDERS_DAYS: count("number of days", 30),
  RESONUM_KEEP_DELETED_DAYS: count("number of days", 30),
  RESONUM_BACKUPS: z.string().default(""),
  RESONUM_BACKUP_HOURS: count("number of hours", 24),
  RESONUM_KEEP_BACKUPS: count("number of backups", 14),
  RESONUM_HOSTS: z.string().default(""),
  RESONUM_STILL_SECONDS: count("number of seconds", 60),
  RESONUM_CHECK_ANSWERS: z.enum(["", "yes"]).default(""),
  RESONUM_TLS: z.enum(["", "own", "proxy"], { error: "“own” or “proxy” is asked for" }).default(""),
});

/**
 * Settings from the environment, with what a studio on one machine needs as default.
 * @throws Error that names every setting that cannot be read, and what is asked for
 */
export function readConfig(environment: Record<string, string | undefined>) {
  const read = environmentSchema.safeParse(environment);
  if (!read.success)
    throw new Error(
      `The environment cannot be read: ${read.error.issues.map(({ path, message }) => `${path.join(".")}: ${message}`).join("; ")}.`,
    );
  const given = read.data;
  return {
    databaseUrl: given.RESONUM_DATABASE_URL,
    /** Where blobs lie: a folder, or "s3://bucket/prefix"; below the data folder unless said. */
    store: given.RESONUM_STORE,
    s3: {
      endpoint: given.RESONUM_S3_ENDPOINT,
      region: given.RESONUM_S3_REGION,
      keyId: given.RESONUM_S3_KEY_ID,
      secret: given.RESONUM_S3_SECRET,
    },
    /** Addresses of receivers, beside a folder. */
    receivers: { podcast: given.RESONUM_PODCAST_HOST, ingest: given.RESONUM_INGEST },
    submissionsFolder: given.RESONUM_SUBMISSIONS ?? given.RESONUM_HANDOVER ?? join(given.RESONUM_DATA, "handed over"),
    /** Where this machine's database lies, so that its disk can be watched; empty where it is elsewhere. */
    databaseFolder: given.RESONUM_DATABASE_FOLDER,
    dataFolder: given.RESONUM_DATA,
    /** Largest file taken in, bytes. */
    maxUploadBytes: given.RESONUM_MAX_UPLOAD_BYTES,
    /** Left free on the disk whatever comes in, bytes. */
    keepFreeBytes: given.RESONUM_KEEP_FREE_BYTES,
    /** Item renders that were not used for so long are swept: they can be made again. */
    keepItemRendersDays: given.RESONUM_KEEP_ITEM_RENDERS_DAYS,
    /** Projects that lie in the bin for so long are removed for good. */
    keepDeletedDays: given.RESONUM_KEEP_DELETED_DAYS,
    /** A project that nobody changed for so long stands still: what is automatic is delivered then. */
    stillSeconds: given.RESONUM_STILL_SECONDS,
    /** Where backups are made by themselves; empty for nowhere. */
    backups: { folder: given.RESONUM_BACKUPS, hours: given.RESONUM_BACKUP_HOURS, keep: given.RESONUM_KEEP_BACKUPS },
    /** Names that the studio answers to beside loopback's, each with its port where that is not the usual one. */
    hosts: given.RESONUM_HOSTS.toLowerCase()
      .split(",")
      .map((host) => host.trim())
      .filter(Boolean),
    /** Who ends TLS; nobody on loopback. */
    tls: given.RESONUM_TLS === "" ? null : given.RESONUM_TLS,
    /** Whether every answer is held against what its endpoint says: in tests. */
    checkAnswers: given.RESONUM_CHECK_ANSWERS === "yes",
    packagesFolder: join(process.cwd(), "node_modules"),
    migrationsFolder: join(process.cwd(), "server", "db", "migrations"),
  };
}

export const config = readConfig(process.env);
