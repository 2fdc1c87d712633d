import { formatDb } from "@core/audio/format";
import { specNamed } from "@core/delivery/specs";
import { LIMITED_FIGURES } from "@core/delivery/spec";
import { check, marginWords, type Verdict } from "@core/delivery/compliance";
import { measureFile } from "./measure-recording";
import { ERROR, FAILS_SPEC, messageOf, print, printJson } from "./outcome";

interface Options {
  spec: string;
  layout?: string;
  json?: boolean;
}

/** `resonum check`: exit 0 when all pass, 1 when one misses its spec, 2 when one cannot be read. */
export async function checkFiles(files: string[], { spec: id, layout, json }: Options): Promise<void> {
  const spec = specNamed(id);
  const answers: Record<string, Verdict | { error: string }> = {};
  let code = 0;
  for (const file of files) {
    try {
      const verdict = check(spec, (await measureFile(file, layout)).figures);
      answers[file] = verdict;
      if (!verdict.pass) code = Math.max(code, FAILS_SPEC);
    } catch (error) {
      answers[file] = { error: messageOf(error) };
      code = ERROR;
      if (!json) process.stderr.write(`resonum: ${file}: ${messageOf(error)}\n`);
    }
  }
  process.exitCode = code;
  if (json) return printJson(answers);
  for (const [file, answer] of Object.entries(answers)) if (!("error" in answer)) printVerdict(file, spec.name, answer);
}

/** @param name of the spec */
export function printVerdict(file: string, name: string, verdict: Verdict): void {
  print(`${verdict.pass ? "passes" : "fails"}  ${file}  (${name})`);
  for (const { what, value, wanted, met } of verdict.fileRequirements)
    print(`  ${what.padEnd(16)}${value.padEnd(16)}${met ? "as asked for" : `${wanted} is asked for`}`);
  for (const { limit, value } of verdict.limits) {
    const { label, unit } = LIMITED_FIGURES[limit.figure];
    print(`  ${label.padEnd(16)}${`${formatDb(value, { digits: 2 })} ${unit}`.padEnd(16)}${marginWords(limit, value)}`);
  }
}
