/** How often one may ask: so that a program that runs away takes nobody else's place. */
import { RateLimiterMemory, RateLimiterRes } from "rate-limiter-flexible";
import { Problem } from "../problem";
import type { Principal } from "./principal";

/** Requests in a minute. A page of a busy project asks some hundred times. */
export const REQUESTS_A_MINUTE = { token: 600, person: 3000 } as const;

const limiter = (points: number) => new RateLimiterMemory({ points, duration: 60 });
const holder = globalThis as typeof globalThis & { resonumRates?: Record<"token" | "person", RateLimiterMemory> };
const rates = (holder.resonumRates ??= {
  token: limiter(REQUESTS_A_MINUTE.token),
  person: limiter(REQUESTS_A_MINUTE.person),
});

/** Counts a request of whoever is known; guests of reviews and those who sign in are counted where they try. @throws Problem 429 */
export async function limitRequests({ person, token }: Principal): Promise<void> {
  if (!person) return;
  try {
    await (token === null ? rates.person.consume(person.id) : rates.token.consume(`${person.id} ${token}`));
  } catch (refused) {
    if (!(refused instanceof RateLimiterRes)) throw refused;
    const seconds = String(Math.ceil(refused.msBeforeNext / 1000));
    const most = REQUESTS_A_MINUTE[token === null ? "person" : "token"];
    throw new Problem(
      429,
      "Too many requests",
      `More than ${most} requests in a minute: ask again in ${seconds} s.`,
      {},
      { "Retry-After": seconds },
    );
  }
}
