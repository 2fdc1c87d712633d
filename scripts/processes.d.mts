/** What tests that start a studio of their own use of `processes.mjs`. */
interface Kept {
  pid: number;
  stop: () => Promise<void>;
}
export function addressFor(host: string, port: number, secure: boolean): string;
export function startWeb(port: number, environment: Record<string, string>, development: boolean): Kept;
export function startWorkers(environment: Record<string, string>, count?: number): Kept[];
export function untilAnswering(address: string, milliseconds?: number): Promise<void>;
