/** The audit trail: who did what, when and from where. Entries are added, never changed. */
import type { AuditEntry } from "@core/people/views";
import { rows, type Queryable } from "../db/database";
import { nameOf, type Principal } from "./principal";

export interface AuditEvent {
  action: string;
  project?: string | null;
  subject?: string | null;
}

export async function audit(
  principal: Principal,
  { action, project, subject }: AuditEvent,
  on?: Queryable,
): Promise<void> {
  await rows(
    `insert into audit (person_id, person, address, token, action, project_id, subject)
     values ($1, $2, $3, $4, $5, $6, left($7, 300))`,
    [
      principal.person?.id ?? null,
      nameOf(principal),
      principal.address,
      principal.token,
      action,
      project ?? null,
      subject ?? null,
    ],
    on,
  );
}

export const AUDIT_PAGE = 200;

export interface AuditQuery {
  /** Only entries before this one. */
  before?: number | undefined;
  project?: string | undefined;
  /** Words in names, actions and subjects. */
  words?: string | undefined;
}

/** Entries, the newest first, a page at a time. */
export const auditTrail = ({ before, project, words }: AuditQuery): Promise<AuditEntry[]> =>
  rows<AuditEntry>(
    `select id, at, person, address, token, action, project_id, subject from audit
     where ($1::bigint is null or id < $1) and ($2::uuid is null or project_id = $2)
       and ($3::text is null or concat_ws(' ', person, action, subject) ilike '%' || $3 || '%')
     order by id desc limit ${AUDIT_PAGE}`,
    [before ?? null, project ?? null, words ? words.replace(/[\\%_]/g, "\\$&") : null],
  );
