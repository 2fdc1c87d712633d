/** Links by which somebody joins the studio, or chooses a new password: good once, for a while, kept as hashes. */
import { randomBytes } from "node:crypto";
import { hashPassword } from "better-auth/crypto";
import type { ProjectRole, StudioRole } from "@core/people/roles";
import type { InvitationPreview, InvitationView } from "@core/people/views";
import { row, rows, transaction, type Queryable } from "../db/database";
import { Problem } from "../problem";
import { headOf } from "../projects/projects";
import { audit } from "./audit";
import { passwordProblem } from "./password";
import { hashOfSecret, nameOf, unknownPrincipal, type Principal } from "./principal";

const newSecret = (): string => randomBytes(32).toString("base64url");
const INVITATION_DAYS = 7;
const RESET_DAYS = 1;

export interface NewInvitation {
  role: StudioRole;
  note: string;
  project?: { id: string; role: ProjectRole } | undefined;
}

/**
 * Engineers invite guests, owners anybody.
 * @returns the secret of the link, told this once
 */
export async function invite(by: Principal, { role, note, project }: NewInvitation): Promise<{ secret: string }> {
  if (by.role !== "owner" && role !== "guest")
    throw new Problem(403, "Not allowed", "Engineers invite guests; owners invite those who work here.");
  const secret = newSecret();
  await rows(
    `insert into invitation (secret_hash, role, note, project_id, project_role, invited_by, expires_at)
     values ($1, $2, $3, $4, $5, $6, now() + make_interval(days => ${INVITATION_DAYS}))`,
    [hashOfSecret(secret), role, note, project?.id ?? null, project?.role ?? null, nameOf(by)],
  );
  await audit(by, { action: "invited", subject: note ? `${role}: ${note}` : role, project: project?.id ?? null });
  return { secret };
}

/** A link by which a person chooses a new password. */
export async function inviteToReset(by: Principal, person: string): Promise<{ secret: string }> {
  const known = await row<{ name: string; role: StudioRole }>(`select name, role from person where "id" = $1`, [
    person,
  ]);
  if (!known) throw new Problem(404, "Not found", "There is no such person.");
  const secret = newSecret();
  await rows(
    `insert into invitation (secret_hash, role, person_id, invited_by, expires_at)
     values ($1, $2, $3, $4, now() + make_interval(days => ${RESET_DAYS}))`,
    [hashOfSecret(secret), known.role, person, nameOf(by)],
  );
  await audit(by, { action: "made a link for a new password", subject: known.name });
  return { secret };
}

const OPEN = "accepted_at is null and withdrawn_at is null and expires_at > now()";

/** Those that can still be followed. */
export const openInvitations = (): Promise<InvitationView[]> =>
  rows<InvitationView>(
    `select i.id, i.role, person.name as reset_for, i.project_id, i.project_role, note, invited_by, created_at, expires_at
     from invitation i left join person on person."id" = i.person_id where ${OPEN} order by created_at desc`,
  );

export async function withdrawInvitation(by: Principal, id: string): Promise<void> {
  const gone = await row<{ role: string; note: string }>(
    `update invitation set withdrawn_at = now() where id = $1 and ${OPEN} returning role, note`,
    [id],
  );
  if (!gone) throw new Problem(404, "Not found", "This invitation was accepted, withdrawn, or has expired.");
  await audit(by, { action: "withdrew an invitation", subject: gone.note || gone.role });
}

interface OpenInvitation {
  id: string;
  role: StudioRole;
  project_id: string | null;
  project_role: ProjectRole | null;
  person_id: string | null;
  invited_by: string;
  name: string | null;
  email: string | null;
}

async function openInvitation(secret: string, on?: Queryable): Promise<OpenInvitation> {
  const found = await row<OpenInvitation>(
    `select i.id, i.role, i.project_id, i.project_role, i.person_id, i.invited_by, person.name, person.email
     from invitation i left join person on person."id" = i.person_id
     where secret_hash = $1 and ${OPEN}${on ? " for update of i" : ""}`,
    [hashOfSecret(secret)],
    on,
  );
  if (!found)
    throw new Problem(
      410,
      "Link no longer good",
      "This link was used, withdrawn, or has expired. Ask whoever sent it for another.",
    );
  return found;
}

/** What a link leads to. */
export async function previewInvitation(secret: string): Promise<InvitationPreview> {
  const { role, project_id: project, invited_by: invitedBy, name, email } = await openInvitation(secret);
  return {
    role,
    project: project && (await headOf(project)).document.name,
    invitedBy,
    resetFor: name === null ? null : { name, email: email! },
  };
}

export interface Acceptance {
  name: string;
  email: string;
  password: string;
}

/** @throws Problem 422 where the password is a bad one */
export function refuseBadPassword({ name, email, password }: Acceptance): void {
  const problem = passwordProblem(password, [name, email]);
  if (problem) throw new Problem(422, "Password not taken", problem);
}

const EMAIL_TAKEN = "23505"; // PostgreSQL: unique_violation

/** Makes an account. @throws Problem 409 where the e-mail address has one */
export async function createPerson(
  { name, email, password }: Acceptance,
  role: StudioRole,
  on: Queryable,
): Promise<string> {
  const hash = await hashPassword(password);
  try {
    const { id } = (await row<{ id: string }>(
      `with made as (insert into person (name, email, role) values ($1, $2, $3) returning "id")
       insert into account ("accountId", "providerId", "userId", "password") select "id"::text, 'credential', "id", $4 from made
       returning "userId" as id`,
      [name, email.toLowerCase(), role, hash],
      on,
    ))!;
    return id;
  } catch (error) {
    if ((error as { code?: string }).code !== EMAIL_TAKEN) throw error;
    throw new Problem(409, "Account exists", "This e-mail address has an account already: sign in with it.");
  }
}

/** Gives a person another password; whoever was signed in with the old one is signed out. */
export async function setPassword(person: string, password: string, on: Queryable): Promise<void> {
  await rows(
    `insert into account ("accountId", "providerId", "userId", "password") values ($1::text, 'credential', $1::uuid, $2)
     on conflict ("userId", "providerId") do update set "password" = $2, "updatedAt" = now()`,
    [person, await hashPassword(password)],
    on,
  );
  await rows(`delete from session where "userId" = $1`, [person], on);
}

/** Follows a link: an account, or a new password for the one there is. Of two who follow it at a time one comes too late. */
export async function acceptInvitation(secret: string, given: Acceptance, address: string | null): Promise<string> {
  return transaction(async (client) => {
    const invitation = await openInvitation(secret, client);
    const known = invitation.person_id && { name: invitation.name!, email: invitation.email! };
    const accepted = known ? { ...given, ...known } : given;
    refuseBadPassword(accepted);
    const id = invitation.person_id ?? (await createPerson(accepted, invitation.role, client));
    if (known) await setPassword(id, given.password, client);
    if (invitation.project_id)
      await rows(
        "insert into project_member (project_id, person_id, role) values ($1, $2, $3)",
        [invitation.project_id, id, invitation.project_role],
        client,
      );
    await client.query("update invitation set accepted_at = now() where id = $1", [invitation.id]);
    const { name, email } = accepted;
    const joined = unknownPrincipal(address, { id, name, email });
    const action = known ? "chose a new password by a link" : `joined, invited by ${invitation.invited_by}`;
    await audit(joined, { action, subject: invitation.role, project: invitation.project_id }, client);
    return email;
  });
}
