/** How often a secret may be guessed at: counted before anything is worked out, by what is guessed at and by whom. */
import { RateLimiterPostgres, RateLimiterRes } from "rate-limiter-flexible";
import { pool } from "../db/database";
import { RequestLimiter } from "../http/request-limiter";
import { Problem } from "../problem";
import { hashOfSecret } from "./principal";

const MINUTE = 60;
const HOUR = 3600;

/** So many wrong ones in so many seconds, then none is looked at for as long. */
export const LIMITS = {
  /** Of one account from one address. */
  pair: { points: 5, duration: 15 * MINUTE, blockDuration: 15 * MINUTE },
  /** Of one account from anywhere: guesses from many addresses. */
  account: { points: 50, duration: HOUR, blockDuration: 15 * MINUTE },
  /** From one address: many accounts. */
  address: { points: 60, duration: HOUR, blockDuration: 15 * MINUTE },
} as const;
type Kind = keyof typeof LIMITS;

const limiterOf = (keyPrefix: Kind) =>
  new RateLimiterPostgres({
    storeClient: pool(),
    storeType: "pool",
    tableName: "sign_in_attempts",
    tableCreated: true,
    clearExpiredByTimeout: keyPrefix === "pair", // of all: they share a table
    keyPrefix,
    ...LIMITS[keyPrefix],
    // Answered without the database from then on.
    inMemoryBlockOnConsumed: LIMITS[keyPrefix].points + 1,
    inMemoryBlockDuration: LIMITS[keyPrefix].blockDuration,
  });

interface Tries {
  limiters: Record<Kind, RateLimiterPostgres>;
  gate: RequestLimiter;
  /** Of each account that is tried at the moment: whoever guesses at one keeps nobody else waiting. */
  lines: Map<string, { line: RequestLimiter; users: number }>;
}
const holder = globalThis as typeof globalThis & { resonumTries?: Tries };

/** So many tries at one account wait for one another. */
const MOST_IN_LINE = 4;

/** A password costs a core a tenth of a second: two at a time leave the others to the rest of the studio. */
const tries = (): Tries =>
  (holder.resonumTries ??= {
    limiters: { pair: limiterOf("pair"), account: limiterOf("account"), address: limiterOf("address") },
    gate: new RequestLimiter(2, 40),
    lines: new Map(),
  });

/** Under what tries are counted. */
export type TryKeys = Record<Kind, string>;

/** @param what is guessed at: an account, a review; @param address of whoever guesses */
export function tryKeys(what: string, address: string | null): TryKeys {
  const account = hashOfSecret(what);
  const place = address ?? "unknown";
  return { pair: hashOfSecret(`${account} ${place}`), account, address: hashOfSecret(place) };
}

const waitWords = (seconds: number) => `${Math.max(1, Math.ceil(seconds / MINUTE))} min`;

/**
 * Counts a try before it is made, so that tries at the same time are all counted.
 * @param tell told once of each lock-out
 * @throws Problem 429
 */
async function countTry(keys: TryKeys, tell: () => Promise<void>): Promise<void> {
  const { limiters } = tries();
  for (const [name, limiter] of Object.entries(limiters) as [Kind, RateLimiterPostgres][]) {
    try {
      await limiter.consume(keys[name]);
    } catch (refused) {
      if (!(refused instanceof RateLimiterRes)) throw refused;
      if (refused.consumedPoints === LIMITS[name].points + 1) await tell();
      const seconds = Math.ceil(refused.msBeforeNext / 1000);
      throw new Problem(
        429,
        "Too many tries",
        `The password was wrong too often. Try again in ${waitWords(seconds)}.`,
        {},
        { "Retry-After": String(seconds) },
      );
    }
  }
}

/** A right password takes back what was counted against the account and against where it comes from. */
async function forgiveTries({ pair, account, address }: TryKeys): Promise<void> {
  const { limiters } = tries();
  await limiters.pair.delete(pair);
  await limiters.account.reward(account);
  await limiters.address.reward(address);
}

/** Does it once nobody else is at the same account. */
async function inLine<Result>(account: string, work: () => Promise<Result>): Promise<Result> {
  const { lines } = tries();
  const entry = lines.get(account) ?? { line: new RequestLimiter(1, MOST_IN_LINE), users: 0 };
  lines.set(account, entry);
  entry.users++;
  try {
    return await entry.line.through(work);
  } finally {
    if (--entry.users === 0) lines.delete(account);
  }
}

/**
 * Tries a secret, few at a time, of one account one at a time.
 * @param work gives `undefined` where it is wrong
 * @param locked told once of each lock-out
 * @throws Problem 429 where it was wrong too often
 */
export async function limitedTry<Result>(
  keys: TryKeys,
  work: () => Promise<Result | undefined>,
  locked: () => Promise<void>,
): Promise<Result | undefined> {
  await countTry(keys, locked);
  const result = await inLine(keys.account, () => tries().gate.through(work));
  if (result !== undefined) await forgiveTries(keys);
  return result;
}
