/** For integration tests: people of a studio with accounts, and the requests that they make. */
import type { ProjectRole, Scope, StudioRole } from "@core/people/roles";
import { pool, row, rows } from "../../server/db/database";
import { createPerson } from "../../server/people/invitations";
import { createToken } from "../../server/people/own-account";
import { signInByPassword } from "../../server/people/sign-in";
import { studioPrincipal, type Principal } from "../../server/people/principal";

export const PASSWORD = "nine herons over the sluice";
export const HOST = "127.0.0.1:4600";

/** Makes an account and tells who that is, as a route would find out. */
export async function person(name: string, role: StudioRole): Promise<Principal & { person: { id: string } }> {
  const email = `${name.toLowerCase().replace(/\W+/g, ".")}@sluice.example`;
  const id = await createPerson({ name, email, password: PASSWORD }, role, pool());
  return { ...studioPrincipal("127.0.0.1"), person: { id, name, email }, role };
}

export const join = (who: Principal, project: string, role: ProjectRole): Promise<unknown> =>
  rows("insert into project_member (project_id, person_id, role) values ($1, $2, $3)", [project, who.person!.id, role]);

export const tokenOf = async (who: Principal, scopes: Scope[], days: number | null = 1): Promise<string> =>
  (await createToken(who, { name: "a program", scopes, days })).token;

/** A request as a browser at the studio's own page sends it. */
export function request(method: string, path: string, headers: Record<string, string> = {}, body?: unknown): Request {
  return new Request(`http://${HOST}${path}`, {
    method,
    headers: { host: HOST, origin: `http://${HOST}`, "x-resonum-address": "127.0.0.1", ...headers },
    ...(body === undefined ? {} : { body: JSON.stringify(body) }),
  });
}

/** The cookie of somebody who signs in. */
export async function cookieOf(who: Principal, password = PASSWORD): Promise<string> {
  const { headers } = request("POST", "/api/sign-in");
  const answer = await signInByPassword({ email: who.person!.email, password }, headers, "127.0.0.1");
  return answer.headers
    .getSetCookie()
    .map((cookie) => cookie.split(";")[0])
    .join("; ");
}

export const sessionsOfPerson = async (who: Principal): Promise<number> =>
  (await row<{ count: number }>(`select count(*)::int from session where "userId" = $1`, [who.person!.id]))!.count;
