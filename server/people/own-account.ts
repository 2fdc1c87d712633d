/** What people look after themselves: their sessions and their API tokens. */
import { randomBytes } from "node:crypto";
import type { Scope } from "@core/people/roles";
import type { SessionView, TokenView } from "@core/people/views";
import { row, rows } from "../db/database";
import { notFound, Problem } from "../problem";
import { audit } from "./audit";
import { hashOfSecret, type Principal } from "./principal";

/** Begins every token, so that one that was published by mistake is found by search. */
const TOKEN_PREFIX = "resonum_";
const TOKEN_START = TOKEN_PREFIX.length + 4;
const MOST_TOKENS = 50;

/** @throws Problem where the studio has no accounts */
function idOf({ person }: Principal): string {
  if (!person)
    throw new Problem(409, "No accounts", "The studio has no accounts yet: whoever is at its machine owns it.");
  return person.id;
}

/** The name that edits and remarks stand under from now on; what stands stays under the former one. */
export async function renameSelf(who: Principal, name: string): Promise<void> {
  await rows(`update person set name = $2, "updatedAt" = now() where "id" = $1`, [idOf(who), name]);
  await audit(who, { action: "changed their name", subject: name });
}

export const sessionsOf = (who: Principal): Promise<SessionView[]> =>
  rows<SessionView>(
    `select "id", "createdAt" as created_at, "updatedAt" as seen_at, nullif("ipAddress", '') as address,
       nullif("userAgent", '') as agent, "id" = $2 as current
     from session where "userId" = $1 and "expiresAt" > now() order by "id" = $2 desc, "updatedAt" desc`,
    [idOf(who), who.sessionId],
  );

/** Signs a device out. */
export async function endSession(who: Principal, id: string): Promise<void> {
  if (!(await row(`delete from session where "id" = $1 and "userId" = $2 returning 1`, [id, idOf(who)])))
    throw notFound("session");
  await audit(who, { action: "signed a device out" });
}

const TOKEN_COLUMNS = "id, name, start, scopes, created_at, expires_at, used_at";

export const tokensOf = (who: Principal): Promise<TokenView[]> =>
  rows<TokenView>(`select ${TOKEN_COLUMNS} from api_token where person_id = $1 order by created_at desc`, [idOf(who)]);

export interface NewToken {
  name: string;
  scopes: readonly Scope[];
  /** `null` for one that does not expire. */
  days: number | null;
}

/** @returns the token as it is listed, and itself, told this once */
export async function createToken(who: Principal, given: NewToken): Promise<TokenView & { token: string }> {
  const person = idOf(who);
  if ((await tokensOf(who)).length >= MOST_TOKENS)
    throw new Problem(409, "Too many tokens", `${MOST_TOKENS} are the most: withdraw some first.`);
  const token = TOKEN_PREFIX + randomBytes(32).toString("base64url");
  const made = (await row<TokenView>(
    `insert into api_token (person_id, name, start, secret_hash, scopes, expires_at)
     values ($1, $2, $3, $4, $5, now() + make_interval(days => $6)) returning ${TOKEN_COLUMNS}`,
    [person, given.name, token.slice(0, TOKEN_START), hashOfSecret(token), given.scopes, given.days],
  ))!;
  await audit(who, { action: "made an API token", subject: `${given.name}: ${given.scopes.join(", ")}` });
  return { ...made, token };
}

export async function withdrawToken(who: Principal, id: string): Promise<void> {
  const gone = await row<{ name: string }>("delete from api_token where id = $1 and person_id = $2 returning name", [
    id,
    idOf(who),
  ]);
  if (!gone) throw notFound("API token");
  await audit(who, { action: "withdrew an API token", subject: gone.name });
}
