/**
 * A folder of backups: blobs once each by their hash, and snapshots, each a dump of the database with the list of the
 * blobs that it refers to. A snapshot counts once its manifest is there, which is written last.
 */
import { randomUUID } from "node:crypto";
import { constants, copyFile, mkdir, open, readdir, readFile, rename, rm, stat, writeFile } from "node:fs/promises";
import { dirname, join } from "node:path";
import * as z from "zod";
import { digestFile, type Digest } from "../storage/checksums";
import { processMark, processState } from "../storage/process-mark";

const hash = z.string().regex(/^[0-9a-f]{64}$/);

const manifestSchema = z.strictObject({
  format: z.literal(1),
  takenAt: z.iso.datetime(),
  /** Of the database as it was. */
  migrations: z.array(z.string()),
  database: z.strictObject({ sha256: hash, bytes: z.number().int().nonnegative() }),
  blobs: z.array(z.tuple([hash, z.number().int().nonnegative()])),
  /** What could not be kept: damaged or missing when it was taken. */
  lost: z.array(hash),
});
export type Manifest = z.infer<typeof manifestSchema>;

const [MANIFEST, DUMP] = ["manifest.json", "database.dump"];
const SNAPSHOT = /^\d{4}-\d\d-\d\dT\d\d-\d\d-\d\d(-\d+)?$/;

export class BackupFolder {
  constructor(readonly folder: string) {}

  #blob(of: string): string {
    return join(this.folder, "blobs", of.slice(0, 2), of);
  }

  snapshotFolder(snapshot: string): string {
    return join(this.folder, "snapshots", snapshot);
  }

  dumpOf(snapshot: string): string {
    return join(this.snapshotFolder(snapshot), DUMP);
  }

  /** Snapshots that are whole, the oldest first. */
  async snapshots(): Promise<string[]> {
    const names = await readdir(join(this.folder, "snapshots")).catch(() => [] as string[]);
    const whole = await Promise.all(
      names.filter((name) => SNAPSHOT.test(name)).map(async (name) => ((await this.#isWhole(name)) ? [name] : [])),
    );
    return whole.flat().sort();
  }

  #isWhole(snapshot: string): Promise<boolean> {
    return stat(join(this.snapshotFolder(snapshot), MANIFEST)).then(
      () => true,
      () => false,
    );
  }

  /** @throws Error where it cannot be read */
  async manifestOf(snapshot: string): Promise<Manifest> {
    const text = await readFile(join(this.snapshotFolder(snapshot), MANIFEST), "utf8").catch(() => {
      throw new Error(`There is no snapshot ${snapshot} in ${this.folder}.`);
    });
    try {
      return manifestSchema.parse(JSON.parse(text));
    } catch {
      throw new Error(
        `The manifest of the snapshot ${snapshot} is damaged, or of a newer version: choose another one.`,
      );
    }
  }

  /** A new snapshot's name: its moment, in UTC. */
  async begin(moment: Date): Promise<string> {
    const name = moment.toISOString().slice(0, 19).replaceAll(":", "-");
    for (let count = 1; ; count++) {
      const snapshot = count === 1 ? name : `${name}-${count}`;
      await mkdir(join(this.folder, "snapshots"), { recursive: true });
      const isNew = await mkdir(this.snapshotFolder(snapshot)).then(
        () => true,
        (error: NodeJS.ErrnoException) => {
          if (error.code !== "EEXIST") throw error;
          return false;
        },
      );
      if (isNew) return snapshot;
    }
  }

  /** Makes a snapshot count. */
  async finish(snapshot: string, manifest: Manifest): Promise<void> {
    const path = join(this.snapshotFolder(snapshot), MANIFEST);
    await writeFile(`${path}.making`, JSON.stringify(manifest), { flush: true });
    await rename(`${path}.making`, path);
  }

  /** Hashes of the blobs that are here, without looking at each. */
  async kept(): Promise<Set<string>> {
    return new Set((await this.#files()).flatMap(({ name, isBlob }) => (isBlob ? [name] : [])));
  }

  /** Copies a file in, and looks at it as it lies here. @throws Error where its bytes are not those of its hash */
  async keep(of: string, from: string): Promise<number> {
    const to = this.#blob(of);
    const making = `${to}.${processMark()}-${randomUUID()}`;
    await mkdir(dirname(to), { recursive: true });
    try {
      await copyThrough(from, making);
      const { hash: found, bytes } = await digestFile(making);
      if (found !== of) throw new Error(`The copy of ${of} is not what was copied.`);
      await rename(making, to);
      return bytes;
    } finally {
      await rm(making, { force: true });
    }
  }

  /** A blob as it is here, read through; `undefined` where it is missing or damaged. */
  async find(of: string): Promise<{ path: string; digest: Digest } | undefined> {
    const path = this.#blob(of);
    const digest = await digestFile(path).catch(() => undefined);
    return digest?.hash === of ? { path, digest } : undefined;
  }

  sizeOf(of: string): Promise<number | undefined> {
    return stat(this.#blob(of)).then(
      ({ size }) => size,
      () => undefined,
    );
  }

  /** Removes what backups left that were interrupted: snapshots without a manifest, blobs that were half copied. */
  async removeUnfinished(): Promise<void> {
    const names = await readdir(join(this.folder, "snapshots")).catch(() => [] as string[]);
    for (const name of names)
      if (SNAPSHOT.test(name) && !(await this.#isWhole(name)))
        await rm(this.snapshotFolder(name), { recursive: true, force: true });
    for (const { path, isBlob } of await this.#files()) if (!isBlob) await rm(path, { force: true });
  }

  async #files(): Promise<{ name: string; path: string; isBlob: boolean }[]> {
    const root = join(this.folder, "blobs");
    const found: { name: string; path: string; isBlob: boolean }[] = [];
    for (const beginning of await readdir(root).catch(() => [] as string[]))
      for (const name of await readdir(join(root, beginning)))
        found.push({ name, path: join(root, beginning, name), isBlob: hash.safeParse(name).success });
    return found;
  }

  /** Removes all snapshots but the newest `most`, and the blobs that no snapshot needs any more. @returns how many of each */
  async prune(most: number): Promise<{ snapshots: number; blobs: number }> {
    const all = await this.snapshots();
    const gone = all.slice(0, Math.max(0, all.length - most));
    const needed = new Set<string>();
    // Read first: where one cannot be read, nothing is removed.
    for (const snapshot of all.slice(gone.length))
      for (const [of] of (await this.manifestOf(snapshot)).blobs) needed.add(of);
    for (const snapshot of gone) {
      // Without its manifest it counts no more, whatever happens.
      await rm(join(this.snapshotFolder(snapshot), MANIFEST));
      await rm(this.snapshotFolder(snapshot), { recursive: true });
    }
    const unneeded = gone.length > 0 ? [...(await this.kept())].filter((of) => !needed.has(of)) : [];
    for (const of of unneeded) await rm(this.#blob(of), { force: true });
    return { snapshots: gone.length, blobs: unneeded.length };
  }

  /** One at a time works on a folder. @throws Error where another does */
  async alone<Result>(work: () => Promise<Result>): Promise<Result> {
    await mkdir(this.folder, { recursive: true });
    const path = join(this.folder, "working");
    const holder = await readFile(path, "utf8").catch(() => undefined);
    if (holder !== undefined && processState(holder) === "gone") await rm(path, { force: true });
    await writeFile(path, processMark(), { flag: "wx" }).catch((error: NodeJS.ErrnoException) => {
      if (error.code !== "EEXIST") throw error;
      throw new Error(
        `Another backup is under way in ${this.folder}. If none is, for it was on a machine that went, remove the file “working” there.`,
      );
    });
    try {
      return await work();
    } finally {
      await rm(path, { force: true });
    }
  }
}

/** Copies, and puts it on the disk. */
async function copyThrough(from: string, to: string): Promise<void> {
  await copyFile(from, to, constants.COPYFILE_EXCL);
  const copy = await open(to, "r+");
  try {
    await copy.sync();
  } finally {
    await copy.close();
  }
}
