/** Exit codes: done or passed, a spec is missed, an error. */
export const DONE = 0;
export const FAILS_SPEC = 1;
export const ERROR = 2;

/** An error in one clear line. */
export class CliProblem extends Error {
  override name = "CliProblem";
}

export const messageOf = (error: unknown): string => (error instanceof Error ? error.message : String(error));

export const printJson = (answer: unknown): void => void process.stdout.write(`${JSON.stringify(answer, null, 2)}\n`);
export const print = (line: string): void => void process.stdout.write(`${line}\n`);
