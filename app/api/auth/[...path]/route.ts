import { readBody } from "@server/http/request-body";
import { anyone } from "@server/people/access";
import { accounts } from "@server/people/accounts";
import { audit } from "@server/people/audit";
import { principal } from "@server/people/principal";
import { notFound } from "@server/problem";
import { plainRoute } from "../../respond";

/** Routes of the accounts library that the page uses; all else is a route of ours. */
const LET_THROUGH: Record<string, string | null> = {
  "sign-out": "signed out",
  "passkey/generate-register-options": null,
  "passkey/verify-registration": "added a passkey",
  "passkey/generate-authenticate-options": null,
  "passkey/verify-authentication": null,
  "passkey/list-user-passkeys": null,
  "passkey/delete-passkey": "removed a passkey",
};
const MAX_BODY = 64 * 2 ** 10;

const answer = plainRoute<{ path: string[] }>(anyone, async (request, { path }) => {
  const name = path.join("/");
  const action = LET_THROUGH[name];
  if (action === undefined) throw notFound("address");
  const body = request.method === "GET" ? null : await readBody(request, MAX_BODY);
  const answer = await accounts().handler(
    new Request(request.url, { method: request.method, headers: request.headers, body: body as BodyInit | null }),
  );
  if (action && answer.ok) await audit(principal(), { action });
  return answer;
});

/** Signing out and passkeys, by the accounts library. */
export const GET = answer;
/** Signing out and passkeys, by the accounts library. */
export const POST = answer;
