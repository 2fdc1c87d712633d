/** Which blocks of the program have been run, by V8's own counters. */
import { Session } from "node:inspector/promises";

export class Coverage {
  readonly #session = new Session();
  readonly #seen = new Set<string>();

  async start(): Promise<void> {
    this.#session.connect();
    await this.#session.post("Profiler.enable");
    await this.#session.post("Profiler.startPreciseCoverage", { callCount: true, detailed: true });
  }

  /** Whether a block was run since the last call that had not been run before, or an order of magnitude more often. */
  async isNew(): Promise<boolean> {
    const { result } = await this.#session.post("Profiler.takePreciseCoverage");
    const before = this.#seen.size;
    for (const { scriptId, url, functions } of result) {
      if (url.startsWith("node:")) continue;
      for (const { ranges } of functions)
        for (const { startOffset, endOffset, count } of ranges)
          if (count > 0) this.#seen.add(`${scriptId}:${startOffset}-${endOffset}:${Math.floor(Math.log2(count))}`);
    }
    return this.#seen.size > before;
  }

  get blocks(): number {
    return this.#seen.size;
  }
}
