// Whom the studio runs as. Started as root it does not run as root: it takes the account that owns the data folder, and
// where that is root's, a system account of its own, "resonum".
import { spawnSync } from "node:child_process";
import {
  chmodSync,
  existsSync,
  lchownSync,
  lstatSync,
  mkdirSync,
  readFileSync,
  readdirSync,
  realpathSync,
  statSync,
} from "node:fs";
import { dirname, join } from "node:path";
import { root } from "./paths.mjs";
import { say } from "./say.mjs";

const NAME = "resonum";
const OTHERS_MAY_ENTER = 0o001;

function accountNamed(name) {
  const line = readFileSync("/etc/passwd", "utf8")
    .split("\n")
    .find((entry) => entry.startsWith(`${name}:`));
  if (!line) return undefined;
  const [, , uid, gid] = line.split(":");
  return { uid: Number(uid), gid: Number(gid) };
}

function ensureAccount() {
  if (!accountNamed(NAME)) {
    const args = ["--system", "--user-group", "--no-create-home", "--shell", "/usr/sbin/nologin", NAME];
    spawnSync("useradd", args, { stdio: ["ignore", 2, 2] });
  }
  return accountNamed(NAME);
}

const othersMayEnter = (folder) =>
  (statSync(folder).mode & OTHERS_MAY_ENTER) !== 0 && (folder === "/" || othersMayEnter(dirname(folder)));

/** Gives a folder and all that is in it to an account. */
export function giveTo({ uid, gid }, path) {
  lchownSync(path, uid, gid);
  if (lstatSync(path).isDirectory()) for (const name of readdirSync(path)) giveTo({ uid, gid }, join(path, name));
}

/**
 * Makes the data folder, for its owner alone, and tells whom the studio runs as.
 * @returns what `spawn` takes; empty where we are not root
 */
export function studioAccount(dataFolder) {
  const isNew = !existsSync(dataFolder);
  mkdirSync(dataFolder, { recursive: true, mode: 0o700 });
  const { uid, gid } = statSync(dataFolder);
  if (process.getuid() !== 0) {
    if (uid !== process.getuid())
      throw new Error(
        `The data folder ${dataFolder} belongs to another account (${uid}). Start Resonum as that one or as root, or set RESONUM_DATA to a folder of your own.`,
      );
    chmodSync(dataFolder, 0o700);
    return {};
  }
  if (uid !== 0) return { uid, gid };
  const account = ensureAccount();
  const needed = [root, dirname(dataFolder), dirname(realpathSync(process.execPath))];
  if (!account || !needed.every(othersMayEnter)) {
    say(
      account
        ? `Resonum runs as root: no other account may enter ${needed.find((folder) => !othersMayEnter(folder))}. Put it where others may, such as /srv, to have it run as “${NAME}”.`
        : `Resonum runs as root: the account “${NAME}” could not be made.`,
    );
    return {};
  }
  chmodSync(dataFolder, 0o700);
  // The cluster of an earlier version belongs to PostgreSQL's own account.
  giveTo(account, dataFolder);
  if (!isNew) say(`The data folder was root's and is “${NAME}”'s now, whom the studio runs as.`);
  return account;
}

/** Ceases to be root, for good. */
export function become({ uid, gid }) {
  if (uid === undefined) return;
  process.setgroups([]);
  process.setgid(gid);
  process.setuid(uid);
}
