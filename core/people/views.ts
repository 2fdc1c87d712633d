/** What the server tells of people, as it goes over the wire. */
import * as z from "zod";
import { instantSchema } from "../audio/instant";
import { PROJECT_ROLES, SCOPES, STUDIO_ROLES } from "./roles";

/** What histories and the audit trail call whoever is at the machine of a studio without accounts. */
export const STUDIO_NAME = "studio";

export const studioRoleSchema = z.enum(STUDIO_ROLES);
export const projectRoleSchema = z.enum(PROJECT_ROLES);

/** Whoever asks. Without accounts, the studio itself on its own machine, which may do everything. */
export const meSchema = z.object({
  person: z
    .object({ id: z.string(), name: z.string(), email: z.string() })
    .nullable()
    .describe("Null where the studio has no accounts."),
  role: studioRoleSchema,
});
export type Me = z.infer<typeof meSchema>;

export const personViewSchema = z.object({
  id: z.string(),
  name: z.string(),
  email: z.string(),
  role: studioRoleSchema,
  suspended: z.boolean().describe("May sign in no more; what they did stays under their name."),
  created_at: instantSchema,
  seen_at: instantSchema.nullable().describe("Last sign of life of a session."),
  passkeys: z.number().int(),
});
export type PersonView = z.infer<typeof personViewSchema>;

export const invitationViewSchema = z.object({
  id: z.string(),
  role: studioRoleSchema,
  reset_for: z.string().nullable().describe("For somebody who has an account and needs a new password."),
  project_id: z.string().nullable(),
  project_role: projectRoleSchema.nullable(),
  note: z.string(),
  invited_by: z.string(),
  created_at: instantSchema,
  expires_at: instantSchema,
});
export type InvitationView = z.infer<typeof invitationViewSchema>;

/** What a link to join says before it is followed. */
export const invitationPreviewSchema = z.object({
  role: studioRoleSchema,
  project: z.string().nullable(),
  invitedBy: z.string(),
  resetFor: z
    .object({ name: z.string(), email: z.string() })
    .nullable()
    .describe("Whom it gives a new password; null where it makes an account."),
});
export type InvitationPreview = z.infer<typeof invitationPreviewSchema>;

export const memberViewSchema = z.object({
  person_id: z.string(),
  name: z.string(),
  email: z.string(),
  role: projectRoleSchema,
});
export type MemberView = z.infer<typeof memberViewSchema>;

export const tokenViewSchema = z.object({
  id: z.string(),
  name: z.string(),
  start: z.string().describe("First signs of the token, to know it by."),
  scopes: z.array(z.enum(SCOPES)),
  created_at: instantSchema,
  expires_at: instantSchema.nullable(),
  used_at: instantSchema.nullable(),
});
export type TokenView = z.infer<typeof tokenViewSchema>;

export const sessionViewSchema = z.object({
  id: z.string(),
  created_at: instantSchema,
  seen_at: instantSchema,
  address: z.string().nullable(),
  agent: z.string().nullable(),
  current: z.boolean().describe("The one that asks."),
});
export type SessionView = z.infer<typeof sessionViewSchema>;

/** Something that was done, by whom and from where. */
export const auditEntrySchema = z.object({
  id: z.number().int(),
  at: instantSchema,
  person: z.string(),
  address: z.string().nullable(),
  action: z.string(),
  project_id: z.string().nullable(),
  subject: z.string().nullable(),
  token: z.string().nullable().describe("Through which API token."),
});
export type AuditEntry = z.infer<typeof auditEntrySchema>;
