/** Signing in with a password: slow for whoever guesses, refused before anything is worked out once it was too often. */
import { RateLimiterPostgres, RateLimiterRes } from "rate-limiter-flexible";
import { pool, row, rows } from "../db/database";
import { RequestLimiter } from "../http/request-limiter";
import { Problem } from "../problem";
import { accounts } from "./accounts";
import { audit } from "./audit";
import { refuseBadPassword } from "./invitations";
import { hashOfSecret, unknownVisitor, type Visitor } from "./visitor";

const MINUTE = 60;
const HOUR = 3600;

/** So many wrong passwords in so many seconds, then none is looked at for as long. */
const LIMITS = {
  /** Of one account from one address. */
  pair: { points: 5, duration: 15 * MINUTE, blockDuration: 15 * MINUTE },
  /** Of one account from anywhere: guesses from many addresses. */
  account: { points: 50, duration: HOUR, blockDuration: 15 * MINUTE },
  /** From one address: many accounts. */
  address: { points: 60, duration: HOUR, blockDuration: 15 * MINUTE },
} as const;

const limiterOf = (keyPrefix: keyof typeof LIMITS) =>
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

type Limiters = Record<keyof typeof LIMITS, RateLimiterPostgres>;
const holder = globalThis as typeof globalThis & { resonumSignIn?: { limiters: Limiters; gate: RequestLimiter } };

/** A password costs a core a tenth of a second: two at a time leave the others to the rest of the studio. */
const signIn = () =>
  (holder.resonumSignIn ??= {
    limiters: { pair: limiterOf("pair"), account: limiterOf("account"), address: limiterOf("address") },
    gate: new RequestLimiter(2, 40),
  });

const waitWords = (seconds: number) => `${Math.max(1, Math.ceil(seconds / MINUTE))} min`;

/** Counts a try before it is made, so that tries at the same time are all counted. @throws Problem 429 */
async function countTry(keys: Record<keyof Limiters, string>, tell: () => Promise<void>): Promise<void> {
  const { limiters } = signIn();
  for (const [name, limiter] of Object.entries(limiters) as [keyof Limiters, RateLimiterPostgres][]) {
    try {
      await limiter.consume(keys[name]);
    } catch (refused) {
      if (!(refused instanceof RateLimiterRes)) throw refused;
      if (refused.isFirstInDuration || refused.consumedPoints === LIMITS[name].points + 1) await tell();
      const seconds = Math.ceil(refused.msBeforeNext / 1000);
      throw new Problem(
        429,
        "Too many tries",
        `The password was wrong too often. Try again in ${waitWords(seconds)}, or use a passkey.`,
        {},
        { "Retry-After": String(seconds) },
      );
    }
  }
}

/** A right password takes back what was counted against the account and against where it comes from. */
async function forgiveTries({ pair, account, address }: Record<keyof Limiters, string>): Promise<void> {
  const { limiters } = signIn();
  await limiters.pair.delete(pair);
  await limiters.account.reward(account);
  await limiters.address.reward(address);
}

const WRONG = () =>
  new Problem(401, "Not signed in", "E-mail address and password do not belong together. Nothing more is told.");

const keysOf = (email: string, address: string | null): Record<keyof Limiters, string> => {
  const account = hashOfSecret(email);
  const place = address ?? "unknown";
  return { pair: hashOfSecret(`${account} ${place}`), account, address: hashOfSecret(place) };
};

/**
 * Changes one's password, the present one being known, which counts as signing in does.
 * @throws Problem where it is not, or the new one is a bad one
 */
export async function changePassword(
  who: Visitor,
  { current, password }: { current: string; password: string },
  headers: Headers,
): Promise<void> {
  const { person } = who;
  if (!person) throw new Problem(409, "No accounts", "The studio has no accounts yet.");
  refuseBadPassword({ ...person, password });
  const keys = keysOf(person.email, who.address);
  await countTry(keys, () => audit(who, { action: "was locked out of changing the password" }));
  const answer = await signIn().gate.through(() =>
    accounts().api.changePassword({
      body: { currentPassword: current, newPassword: password, revokeOtherSessions: false },
      headers,
      asResponse: true,
    }),
  );
  if (!answer.ok) {
    await audit(who, { action: "gave a wrong password" });
    throw new Problem(422, "Wrong password", "The present password is another one.");
  }
  await forgiveTries(keys);
  await rows(`delete from session where "userId" = $1 and "id" <> $2`, [person.id, who.sessionId]);
  await audit(who, { action: "changed their password" });
}

/**
 * Signs a person in.
 * @returns the answer with the session's cookie
 * @throws Problem 401 where they do not belong together, 429 after too many tries
 */
export async function signInByPassword(
  given: { email: string; password: string },
  headers: Headers,
  address: string | null,
): Promise<Response> {
  const email = given.email.toLowerCase();
  const keys = keysOf(email, address);
  const refused = async (action: string) => {
    const known = await row<{ id: string; name: string; email: string }>(
      `select "id", name, email from person where email = $1`,
      [email],
    );
    // Unknown addresses are not kept: somebody may have typed a password into the wrong field.
    await audit(unknownVisitor(address, known), { action, subject: known ? null : "an unknown account" });
  };
  await countTry(keys, () => refused("was locked out of signing in"));
  const answer = await signIn().gate.through(() =>
    accounts().api.signInEmail({ body: { email, password: given.password }, headers, asResponse: true }),
  );
  if (!answer.ok) {
    await refused("gave a wrong password");
    if (answer.status === 403) throw new Problem(403, "Suspended", "This account is suspended. Ask an owner.");
    if (answer.status >= 500) throw new Error(`signing in failed: ${await answer.text()}`);
    throw WRONG();
  }
  await forgiveTries(keys);
  return answer;
}
