/** Signing in with a password, and changing it: slow for whoever guesses. */
import { row, rows } from "../db/database";
import { Problem } from "../problem";
import { accounts } from "./accounts";
import { audit } from "./audit";
import { refuseBadPassword } from "./invitations";
import { limitedTry, tryKeys } from "./try-limits";
import { unknownPrincipal, type Principal } from "./principal";

const WRONG = () =>
  new Problem(401, "Not signed in", "E-mail address and password do not belong together. Nothing more is told.");

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
  const refused = async (action: string) => {
    const known = await row<{ id: string; name: string; email: string }>(
      `select "id", name, email from person where email = $1`,
      [email],
    );
    // Unknown addresses are not kept: somebody may have typed a password into the wrong field.
    await audit(unknownPrincipal(address, known), { action, subject: known ? null : "an unknown account" });
  };
  let status = 0;
  const answer = await limitedTry(
    tryKeys(email, address),
    async () => {
      const body = { email, password: given.password };
      const answered = await accounts().api.signInEmail({ body, headers, asResponse: true });
      ({ status } = answered);
      return answered.ok ? answered : undefined;
    },
    () => refused("was locked out of signing in"),
  );
  if (answer) return answer;
  await refused("gave a wrong password");
  if (status === 403) throw new Problem(403, "Suspended", "This account is suspended. Ask an owner.");
  if (status >= 500) throw new Error(`signing in failed with ${status}`);
  throw WRONG();
}

/**
 * Changes one's password, the present one being known, which counts as signing in does. All other devices are signed out.
 * @throws Problem where it is not, or the new one is a bad one
 */
export async function changePassword(
  who: Principal,
  { current, password }: { current: string; password: string },
  headers: Headers,
): Promise<void> {
  const { person } = who;
  if (!person) throw new Problem(409, "No accounts", "The studio has no accounts yet.");
  refuseBadPassword({ ...person, password });
  const changed = await limitedTry(
    tryKeys(person.email, who.address),
    async () => {
      const body = { currentPassword: current, newPassword: password, revokeOtherSessions: false };
      return (await accounts().api.changePassword({ body, headers, asResponse: true })).ok || undefined;
    },
    () => audit(who, { action: "was locked out of changing the password" }),
  );
  if (!changed) {
    await audit(who, { action: "gave a wrong password" });
    throw new Problem(422, "Wrong password", "The present password is another one.");
  }
  await rows(`delete from session where "userId" = $1 and "id" <> $2`, [person.id, who.sessionId]);
  await audit(who, { action: "changed their password" });
}
