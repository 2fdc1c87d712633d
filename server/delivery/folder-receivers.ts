/** Folders of this machine as receivers: a new one each time, or one that always holds the latest. */
import { copyFile, mkdir, readdir, readFile, rename, rm, stat, writeFile } from "node:fs/promises";
import { dirname, join } from "node:path";
import { specOf } from "@core/project/document";
import { fileName } from "@core/project/file-name";
import { config } from "../config";
import { blobs } from "../storage/blobs";
import { hashFile } from "../storage/byte-files";
import { explainDiskFull } from "../storage/free-space";
import { documentsOf, type Delivery } from "./documents";
import { remaining, type Receiver, type SubmissionContext } from "./receiver";

const folderOf = ({ document, project }: Delivery): string =>
  join(config.submissionsFolder, fileName(`${document.name} ${project.slice(0, 8)}`));

const specNameOf = ({ document, masters }: Delivery): string => specOf(document, masters[0]!.deliverable.spec).name;

/** There as a whole or not at all: made beside its place, and gone on with after an interruption. */
export const newFolder: Receiver = {
  id: "folder",
  name: "Folder on this machine",
  help: `Masters and documents, in a folder of its own each time, below ${config.submissionsFolder}`,
  async take(handing) {
    const { id, delivery } = handing;
    const ofProject = folderOf(delivery);
    const to = join(ofProject, fileName(`${specNameOf(delivery)} ${id.slice(0, 8)}`));
    const making = join(ofProject, `.making-${id}`);
    if (!(await isThere(to))) {
      await writing(making, async () => {
        for (const { name, master } of remaining({ ...handing, accepted: new Set() }))
          await copyWhole(master.file_hash!, join(making, name));
        for (const { name, make } of documentsOf(delivery)) await writeFile(join(making, name), await make());
        await rename(making, to);
      });
    }
    await acceptAll(handing);
  },
};

/** Names of the files that were put into a folder by this, so that nobody else's are taken away. */
const PLACED = ".placed.json";

/**
 * Always the same paths, for whoever has them open in an edit: each file is replaced at once by the next, and what is no
 * longer delivered is taken away.
 */
export const latestFolder: Receiver = {
  id: "latest",
  name: "Folder with the latest",
  help: `Always the same paths, replaced by the newest masters and documents, below ${config.submissionsFolder}`,
  async take(handing) {
    const { id, delivery } = handing;
    const { document, project, masters } = delivery;
    const ofProject = await lasting(config.submissionsFolder, document.name, project.slice(0, 8));
    const deliverable = masters[0]!.deliverable.id.slice(0, 8);
    const to = await lasting(ofProject, specNameOf(delivery), `latest ${deliverable}`);
    const making = join(to, `.making-${id}`);
    await writing(making, async () => {
      const documents = documentsOf(delivery);
      const names = [...delivery.masters, ...documents].map(({ name }) => name);
      const placed = await placedIn(to);
      const replace = (name: string) => rename(join(making, name), join(to, name));
      // Before the first, so that whatever an interruption leaves is known to be of this.
      await writeFile(join(to, PLACED), JSON.stringify([...new Set([...placed, ...names])]));
      for (const { name, master } of remaining({ ...handing, accepted: new Set() })) {
        await copyWhole(master.file_hash!, join(making, name));
        await replace(name);
      }
      for (const { name, make } of documents) {
        await writeFile(join(making, name), await make());
        await replace(name);
      }
      for (const name of placed) if (!names.includes(name)) await rm(join(to, name), { force: true });
      await writeFile(join(to, PLACED), JSON.stringify(names));
      await rm(making, { recursive: true, force: true });
    });
    await acceptAll(handing);
  },
};

/** A folder that keeps its name, whatever what it is called after is renamed to: found again by its ending. */
async function lasting(parent: string, name: string, ending: string): Promise<string> {
  const there = await readdir(parent).catch(() => []);
  return join(parent, there.find((one) => one.endsWith(` ${ending}`)) ?? fileName(`${name} ${ending}`));
}

async function placedIn(folder: string): Promise<string[]> {
  try {
    const placed: unknown = JSON.parse(await readFile(join(folder, PLACED), "utf8"));
    const isName = (name: unknown): name is string => typeof name === "string" && dirname(name) === ".";
    return Array.isArray(placed) ? placed.filter(isName) : [];
  } catch {
    return []; // nothing was put there yet, or somebody else wrote it
  }
}

/** @throws Error that says why nothing can be written, and what to do */
async function writing(folder: string, work: () => Promise<void>): Promise<void> {
  try {
    await mkdir(folder, { recursive: true });
    await work();
  } catch (error) {
    const { code, syscall } = error as NodeJS.ErrnoException;
    if (code === "ENOSPC" || syscall === undefined) throw explainDiskFull(error as Error);
    throw new Error(
      `“${folder}” cannot be written to (${code}). Mend what is wrong with the folder, then submit again.`,
    );
  }
}

async function acceptAll(handing: SubmissionContext): Promise<void> {
  for (const { name } of remaining(handing)) await handing.said({ name, accepted: true, reasons: [] });
}

const isThere = (path: string): Promise<boolean> =>
  stat(path).then(
    () => true,
    () => false,
  );

/** Copies a master's file unless it was copied before. @throws Error where what is written is not what was read */
async function copyWhole(hash: string, to: string): Promise<void> {
  if ((await isThere(to)) && (await hashFile(to)).hash === hash) return;
  await copyFile(await blobs.fileOf(hash), to);
  if ((await hashFile(to)).hash !== hash)
    throw new Error(`“${to}” is not what was written: look at the disk it lies on.`);
}
