/** What the server tells of people, as it goes over the wire. */
import type { Instant } from "../audio/instant";
import type { ProjectRole, Scope, StudioRole } from "./roles";

/** What histories and the audit trail call whoever is at the machine of a studio without accounts. */
export const STUDIO_NAME = "studio";

/** Whoever asks. Without accounts, the studio itself on its own machine, which may do everything. */
export interface Me {
  /** `null` where the studio has no accounts. */
  person: { id: string; name: string; email: string } | null;
  role: StudioRole;
}

export interface PersonView {
  id: string;
  name: string;
  email: string;
  role: StudioRole;
  /** May sign in no more; what they did stays under their name. */
  suspended: boolean;
  created_at: Instant;
  /** Last sign of life of a session. */
  seen_at: Instant | null;
  passkeys: number;
}

export interface InvitationView {
  id: string;
  role: StudioRole;
  /** For somebody who has an account and needs a new password. */
  reset_for: string | null;
  project_id: string | null;
  project_role: ProjectRole | null;
  note: string;
  invited_by: string;
  created_at: Instant;
  expires_at: Instant;
}

/** What a link to join says before it is followed. */
export interface InvitationPreview {
  role: StudioRole;
  project: string | null;
  invitedBy: string;
  /** Whom it gives a new password; `null` where it makes an account. */
  resetFor: { name: string; email: string } | null;
}

export interface MemberView {
  person_id: string;
  name: string;
  email: string;
  role: ProjectRole;
}

export interface TokenView {
  id: string;
  name: string;
  /** First signs of the token, to know it by. */
  start: string;
  scopes: Scope[];
  created_at: Instant;
  expires_at: Instant | null;
  used_at: Instant | null;
}

export interface SessionView {
  id: string;
  created_at: Instant;
  seen_at: Instant;
  address: string | null;
  agent: string | null;
  /** The one that asks. */
  current: boolean;
}

/** Something that was done, by whom and from where. */
export interface AuditEntry {
  id: number;
  at: Instant;
  person: string;
  address: string | null;
  action: string;
  project_id: string | null;
  subject: string | null;
  /** Through which API token. */
  token: string | null;
}
