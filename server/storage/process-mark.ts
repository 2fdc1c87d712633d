/** Marks of processes, for names of what is theirs: a process number alone is given to another one day. */
import { readFileSync } from "node:fs";
import { hostname } from "node:os";

/** What has ended and was not fetched by its parent, or is about to be gone. */
const ENDED = ["Z", "X"];

/** When a process began, in ticks since the machine did; `undefined` where there is no such process any more. */
function startedAt(pid: number): string | undefined {
  try {
    // After the name in brackets, which may hold anything: state is field 3, the start field 22 (proc(5)).
    const fields = readFileSync(`/proc/${pid}/stat`, "latin1")
      .replace(/^.*\) /s, "")
      .split(" ");
    return ENDED.includes(fields[0]!) ? undefined : fields[19];
  } catch {
    return undefined;
  }
}

const host = encodeURIComponent(hostname()).replaceAll(/[-.]/g, "_");

/** "host-pid-start", for this process. */
export const processMark = (): string => `${host}-${process.pid}-${startedAt(process.pid) ?? 0}`;

/** What is known of the process that a name begins with the mark of. */
export function processState(name: string): "running" | "gone" | "elsewhere" {
  const [machine, pid = "", start] = name.split("-");
  if (machine !== host) return /^\d+$/.test(machine ?? "") ? "gone" : "elsewhere"; // bare numbers are of earlier versions
  return startedAt(Number(pid)) === start ? "running" : "gone";
}
