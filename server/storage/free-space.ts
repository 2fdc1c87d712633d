/** Room on the disks: kept free whatever comes in, and told in words where there is none. */
import { statfs } from "node:fs/promises";
import { config } from "../config";
import { Problem } from "../problem";

const FULL = "The disk is full. Nothing that was finished is lost; make room, then try again.";

/** An error of a full disk in words for a person; others as they are. */
export function explainDiskFull(error: Error): Error {
  return (error as NodeJS.ErrnoException).code === "ENOSPC" ? new Error(FULL) : error;
}

/** Bytes free on the disk of a folder. */
export const freeOn = async (folder: string): Promise<number> => {
  const { bavail, bsize } = await statfs(folder);
  return bavail * bsize;
};

/** @throws an error with the code ENOSPC where writing to `folder` would leave less than is kept free */
export async function ensureFreeSpace(folder: string): Promise<void> {
  if ((await freeOn(folder)) < config.keepFreeBytes) throw Object.assign(new Error(FULL), { code: "ENOSPC" });
}

/** The database needs less than recordings do, but without it nothing can be saved. */
const DATABASE_ROOM_BYTES = 128 * 2 ** 20;
const LOOK_MS = 5000;
let looked = { at: 0, free: Infinity };

/** @throws Problem before the database's disk is full: what is refused in time is not half written */
export async function refuseIfDiskFull(): Promise<void> {
  if (!config.databaseFolder) return; // a server elsewhere
  if (Date.now() - looked.at > LOOK_MS)
    looked = { at: Date.now(), free: await freeOn(config.databaseFolder).catch(() => Infinity) };
  if (looked.free < DATABASE_ROOM_BYTES)
    throw new Problem(
      507,
      "Disk full",
      "The disk of the database is nearly full, so this was not saved. Make room; the page goes on trying.",
    );
}
