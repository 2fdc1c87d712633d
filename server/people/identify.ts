/** Finds out who asks: by the session's cookie, by an API token, or by there being no accounts. */
import type { Scope, StudioRole } from "@core/people/roles";
import { row, rows } from "../db/database";
import { Problem } from "../problem";
import { accounts } from "./accounts";
import { hashOfSecret, studioPrincipal, type Principal } from "./principal";

const holder = globalThis as typeof globalThis & { resonumHasAccounts?: true };

/** Whether there are accounts; once there are, there always are. */
export async function hasAccounts(): Promise<boolean> {
  if (holder.resonumHasAccounts) return true;
  const { any } = (await row<{ any: boolean }>("select exists (select 1 from person) as any"))!;
  if (any) holder.resonumHasAccounts = true;
  return any;
}

const LOOPBACK = /^(127\.\d+\.\d+\.\d+|::1|::ffff:127\.\d+\.\d+\.\d+)$/;

/** Set by the server itself for each request (`scripts/before-requests.mjs`); whatever was sent under its name is gone. */
export const addressOf = (request: Request): string | null => request.headers.get("x-resonum-address");

/** Whoever asks, or `null` where they have to sign in first. */
export async function principalOf(request: Request): Promise<Principal | null> {
  const address = addressOf(request);
  if (!(await hasAccounts())) {
    if (address !== null && !LOOPBACK.test(address)) return null;
    return studioPrincipal(address);
  }
  const bearer = /^Bearer (\S+)$/.exec(request.headers.get("authorization") ?? "");
  if (bearer) return { ...(await principalOfToken(bearer[1]!)), address };
  const found = await accounts().api.getSession({ headers: request.headers });
  const role = found && (await roleOfSession(found.session.id));
  if (!role) return null;
  const { id, name, email } = found.user;
  return { person: { id, name, email }, role, scopes: null, sessionId: found.session.id, token: null, address };
}

/** Nobody is behind a session that nothing was heard of for so long. */
const IDLE = "interval '24 hours'";
/** As exact as that need be known. */
const SEEN = "interval '1 minute'";

/** Notes that a session is used, and ends one that was not for too long. @returns the person's role where it goes on */
async function roleOfSession(id: string): Promise<StudioRole | undefined> {
  const found = await row<{ role: StudioRole; suspended: boolean; idle: boolean; late: boolean }>(
    `select role, suspended, s."updatedAt" < now() - ${IDLE} as idle, s."updatedAt" < now() - ${SEEN} as late
     from session s join person on person."id" = s."userId" where s."id" = $1`,
    [id],
  );
  if (!found) return undefined;
  if (found.idle || found.suspended) await rows(`delete from session where "id" = $1`, [id]);
  else if (found.late) await rows(`update session set "updatedAt" = now() where "id" = $1`, [id]);
  return found.idle || found.suspended ? undefined : found.role;
}

async function principalOfToken(token: string): Promise<Omit<Principal, "address">> {
  const found = await row<{
    id: string;
    name: string;
    email: string;
    role: StudioRole;
    token: string;
    scopes: Scope[];
  }>(
    `update api_token set used_at = now() from person
     where secret_hash = $1 and person."id" = person_id and not suspended and (expires_at is null or expires_at > now())
     returning person."id", person.name, email, role, api_token.name as token, scopes`,
    [hashOfSecret(token)],
  );
  if (!found)
    throw new Problem(401, "Not signed in", "This API token is not known, was withdrawn, or has expired.", {}, BEARER);
  const { id, name, email, role, token: tokenName, scopes } = found;
  return { person: { id, name, email }, role, scopes, sessionId: null, token: tokenName };
}

const BEARER = { "WWW-Authenticate": "Bearer" };

export const notSignedIn = (): Problem => new Problem(401, "Not signed in", "Sign in to go on.", {}, BEARER);
