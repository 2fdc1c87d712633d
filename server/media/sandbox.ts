/**
 * A sandbox for programs that read what came from outside: Debian's bubblewrap gives them a file system of their own
 * with the files that they need and nothing else, no network, and no sight of other processes; `prlimit` limits memory,
 * processor time and the size of files. Where the kernel forbids namespaces, all limits but those of sight are left.
 */
import { execFile } from "node:child_process";
import { chown, open, stat } from "node:fs/promises";
import { extname } from "node:path";
import { promisify } from "node:util";
import { log } from "../log";

/** An argument that stands for a file: the sandbox shows it under a name of its own. */
export type SandboxFile = { read: string } | { write: string };
export type SandboxArgument = string | SandboxFile;

/** A file that is only read. */
export const inputFile = (path: string): SandboxFile => ({ read: path });
/** A file that is written, from its beginning. */
export const outputFile = (path: string): SandboxFile => ({ write: path });

export interface SandboxLimits {
  cpuSeconds: number;
  memoryBytes: number;
  /** Largest file that may be written. */
  fileBytes: number;
}

export interface SandboxedCommand {
  program: string;
  args: string[];
  /** Gives written files back to us; call it once the program has ended. */
  release(): Promise<void>;
}

/** Owner of what is done as root: nobody's, and no other service's. */
const OWN_UID = 64_931;
/** Bits of a file's mode that let everybody read it. */
const WORLD_READABLE = 0o004;
const OPEN_FILES = 64;

/** What programs need of the system: their libraries, and what Debian's alternatives point at. */
const SYSTEM = [
  ...["--perms", "0755", "--dir", "/etc"],
  ...["/usr", "/lib", "/lib64", "/bin", "/etc/alternatives", "/etc/ld.so.cache"].flatMap((path) => [
    "--ro-bind-try",
    path,
    path,
  ]),
  ...["--proc", "/proc", "--dev", "/dev", "--perms", "1777", "--tmpfs", "/tmp", "--chdir", "/"],
];
/** Ends with whoever started it, however that ends; sees no other process, no network, no terminal. */
const APART = [
  "--die-with-parent",
  "--unshare-net",
  "--unshare-pid",
  "--unshare-ipc",
  "--unshare-uts",
  "--unshare-cgroup-try",
];

const isRoot = (): boolean => process.getuid?.() === 0;
const unshared = (): string[] => (isRoot() ? APART : [...APART, "--unshare-user"]);

const holder = globalThis as typeof globalThis & { resonumNamespaces?: Promise<boolean> };

/** Whether namespaces can be had here; tried once a process. */
export function hasNamespaces(): Promise<boolean> {
  holder.resonumNamespaces ??= promisify(execFile)("bwrap", [...unshared(), ...SYSTEM, "true"], {
    timeout: 10_000,
  }).then(
    () => true,
    (error: Error) => {
      log.warn(
        { error: error.message.split("\n").slice(0, 2).join(" ") },
        "no sandbox: bubblewrap is missing or namespaces are forbidden; ffmpeg runs with its other limits",
      );
      return false;
    },
  );
  return holder.resonumNamespaces;
}

const rlimits = ({ cpuSeconds, memoryBytes, fileBytes }: SandboxLimits): string[] => [
  "prlimit",
  `--as=${memoryBytes}`,
  `--cpu=${Math.ceil(cpuSeconds)}`,
  `--fsize=${fileBytes}`,
  `--nofile=${OPEN_FILES}`,
  "--core=0",
];

const isFile = (argument: SandboxArgument): argument is SandboxFile => typeof argument !== "string";

/** The command that runs a program with these arguments apart from everything else. */
export async function sandboxed(
  program: string,
  args: readonly SandboxArgument[],
  limits: SandboxLimits,
): Promise<SandboxedCommand> {
  if (await hasNamespaces()) return inNamespaces(program, args, limits);
  const plain = args.map((argument) => (isFile(argument) ? `file:${pathOf(argument)}` : argument));
  return {
    program: "setpriv",
    args: ["--pdeathsig", "KILL", "--no-new-privs", ...rlimits(limits), program, ...plain],
    release: async () => undefined,
  };
}

const pathOf = (file: SandboxFile): string => ("read" in file ? file.read : file.write);

async function inNamespaces(
  program: string,
  args: readonly SandboxArgument[],
  limits: SandboxLimits,
): Promise<SandboxedCommand> {
  const files = args.filter(isFile);
  const written = files.flatMap((file) => ("write" in file ? [file.write] : []));
  for (const path of written) await (await open(path, "a")).close(); // only what is there can be shown
  const demoted = isRoot() && (await Promise.all(files.map(isWorldReadable))).every(Boolean);
  if (demoted) for (const path of written) await chown(path, OWN_UID, OWN_UID);
  const binds: string[] = [];
  let count = 0;
  const shown = args.map((argument) => {
    if (!isFile(argument)) return argument;
    const path = pathOf(argument);
    // Some muxers are chosen by the ending of the name.
    const name = "read" in argument ? `/in${count++}` : `/out${count++}${extname(path)}`;
    binds.push("read" in argument ? "--ro-bind" : "--bind", path, name);
    return `file:${name}`;
  });
  return {
    program: "bwrap",
    args: [
      ...unshared(),
      ...SYSTEM,
      ...privileges(demoted),
      ...binds,
      ...identity(demoted),
      ...rlimits(limits),
      program,
      ...shown,
    ],
    release: async () => {
      if (demoted) for (const path of written) await chown(path, 0, 0).catch(() => undefined); // it may be gone again
    },
  };
}

const isWorldReadable = async (file: SandboxFile): Promise<boolean> =>
  "write" in file || ((await stat(file.read)).mode & WORLD_READABLE) !== 0;

/** As root, files that only root may read are read by root without any other of its powers. */
function privileges(demoted: boolean): string[] {
  if (!isRoot()) return [];
  return demoted
    ? ["--cap-drop", "ALL", "--cap-add", "CAP_SETUID", "--cap-add", "CAP_SETGID"]
    : ["--cap-drop", "ALL", "--cap-add", "CAP_DAC_READ_SEARCH"];
}

const identity = (demoted: boolean): string[] =>
  demoted
    ? ["setpriv", `--reuid=${OWN_UID}`, `--regid=${OWN_UID}`, "--clear-groups", "--no-new-privs"]
    : ["setpriv", "--no-new-privs"];
