/** How many requests are worked on at a time: some more wait, and those after them are told to come again. */
import { Problem } from "../problem";

export class RequestLimiter {
  #inside = 0;
  readonly #waiting: (() => void)[] = [];

  constructor(
    readonly most: number,
    readonly mayWait: number,
  ) {}

  /** @throws Problem 503 where too many wait already */
  async through<Result>(work: () => Promise<Result>): Promise<Result> {
    if (this.#inside >= this.most) {
      if (this.#waiting.length >= this.mayWait)
        throw new Problem(
          503,
          "Busy",
          "The server has too much to do at the moment. Nothing was changed; try again in a few seconds.",
          {},
          { "Retry-After": "3" },
        );
      // Whoever leaves hands its place over.
      await new Promise<void>((resolve) => this.#waiting.push(resolve));
    } else this.#inside++;
    try {
      return await work();
    } finally {
      const next = this.#waiting.shift();
      if (next) next();
      else this.#inside--;
    }
  }
}

const holder = globalThis as typeof globalThis & { resonumGates?: { heavy: RequestLimiter; light: RequestLimiter } };
const gates = (holder.resonumGates ??= { heavy: new RequestLimiter(2, 40), light: new RequestLimiter(16, 400) });

/** For what takes much memory or time: reports, measuring, lists of everything. */
export const heavyRequests = gates.heavy;
/** For all else: as many as the database has connections for, and then some. */
export const lightRequests = gates.light;
