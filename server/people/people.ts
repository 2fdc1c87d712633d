/** People of the studio: their roles, who is suspended, and who has which part in a project. */
import { projectRole, type ProjectRole, type StudioRole } from "@core/people/roles";
import type { MemberView, PersonView } from "@core/people/views";
import type pg from "pg";
import { row, rows, transaction } from "../db/database";
import { publish } from "../db/notifications";
import { notFound, Problem } from "../problem";
import { audit } from "./audit";
import { createPerson, refuseBadPassword, setPassword, type Acceptance } from "./invitations";
import { hasAccounts } from "./identify";
import type { Principal } from "./principal";

/** Held by whoever makes, suspends or demotes an owner, so that one always stays. */
const OWNERS_LOCK = 0x5e53;

const lockOwners = (client: pg.PoolClient) => client.query("select pg_advisory_xact_lock($1)", [OWNERS_LOCK]);

export const listPeople = (): Promise<PersonView[]> =>
  rows<PersonView>(
    `select "id", name, email, role, suspended, "createdAt" as created_at,
       (select max(greatest("updatedAt", "createdAt")) from session where "userId" = person."id") as seen_at,
       (select count(*)::int from passkey where "userId" = person."id") as passkeys
     from person order by suspended, name`,
  );

/** Gives a studio that has none its first account, an owner: from then on everybody signs in. */
export async function beginAccounts(by: Principal, given: Acceptance): Promise<void> {
  refuseBadPassword(given);
  await transaction(async (client) => {
    await lockOwners(client);
    if (await hasAccounts()) throw new Problem(409, "There are accounts", "The studio has an owner already: sign in.");
    await createPerson(given, "owner", client);
    await audit(by, { action: "gave the studio its owner", subject: given.name }, client);
  });
}

/**
 * From the command line: whoever has the machine has the studio. An account that is there becomes an owner's again.
 * @returns whether the account was there
 */
export async function makeOwner(by: Principal, given: Acceptance): Promise<boolean> {
  refuseBadPassword(given);
  return transaction(async (client) => {
    await lockOwners(client);
    const known = await row<{ id: string }>(
      `update person set role = 'owner', suspended = false, "updatedAt" = now() where email = $1 returning "id"`,
      [given.email.toLowerCase()],
      client,
    );
    if (known) await setPassword(known.id, given.password, client);
    else await createPerson(given, "owner", client);
    await audit(by, { action: "made an owner on the server", subject: given.email }, client);
    return known !== undefined;
  });
}

export interface PersonChange {
  role?: StudioRole | undefined;
  suspended?: boolean | undefined;
}

/** Changes a role, or suspends somebody, who is signed out at once. @throws Problem where no owner would be left */
export async function changePerson(by: Principal, id: string, { role, suspended }: PersonChange): Promise<void> {
  await transaction(async (client) => {
    await lockOwners(client);
    const changed = await row<{ name: string }>(
      `update person set role = coalesce($2, role), suspended = coalesce($3, suspended), "updatedAt" = now()
       where "id" = $1 returning name`,
      [id, role ?? null, suspended ?? null],
      client,
    );
    if (!changed) throw notFound("person");
    if (!(await row("select 1 from person where role = 'owner' and not suspended", [], client)))
      throw new Problem(409, "No owner left", "The studio must keep an owner: make somebody else one first.");
    if (suspended) {
      await client.query(`delete from session where "userId" = $1`, [id]);
      await client.query("delete from api_token where person_id = $1", [id]);
    }
    if (role) await audit(by, { action: `made ${role}`, subject: changed.name }, client);
    if (suspended !== undefined)
      await audit(by, { action: suspended ? "suspended" : "let in again", subject: changed.name }, client);
  });
  await publish({ topic: "people" });
}

/** Whoever makes a project edits it, where their role in the studio does not say so already. */
export async function giveToCreator({ person, role }: Principal, project: string): Promise<void> {
  if (person && projectRole(role, null) !== "edit")
    await rows("insert into project_member (project_id, person_id, role) values ($1, $2, 'edit')", [
      project,
      person.id,
    ]);
}

export const membersOf = (project: string): Promise<MemberView[]> =>
  rows<MemberView>(
    `select person_id, name, email, m.role from project_member m join person on person."id" = person_id
     where project_id = $1 order by name`,
    [project],
  );

/** Gives somebody a role in a project; `null` takes it away. */
export async function setMember(by: Principal, project: string, id: string, role: ProjectRole | null): Promise<void> {
  const person = await row<{ name: string }>(`select name from person where "id" = $1`, [id]);
  if (!person) throw notFound("person");
  await (role
    ? rows(
        `insert into project_member (project_id, person_id, role) values ($1, $2, $3)
         on conflict (project_id, person_id) do update set role = excluded.role`,
        [project, id, role],
      )
    : rows("delete from project_member where project_id = $1 and person_id = $2", [project, id]));
  await audit(by, {
    action: role ? `gave “${role}” in a project` : "took out of a project",
    subject: person.name,
    project,
  });
  await publish({ topic: "people" });
}
