/** People of the studio, their parts in projects, and what they did. */
import * as z from "zod";
import { PROJECT_ROLES, STUDIO_ROLES } from "../people/roles";
import { auditEntrySchema, invitationViewSchema, memberViewSchema, personViewSchema } from "../people/views";
import { acceptanceSchema } from "./account";
import { endpoint } from "./endpoint";

const secretAnswer = z.object({ secret: z.string().describe("Of the link, told this once.") });

export const listPeople = endpoint("GET", "/api/people", "Everybody who has an account.", {
  answer: z.array(personViewSchema),
});

export const beginAccounts = endpoint(
  "POST",
  "/api/people",
  "Makes the first account, the owner's; from then on everybody signs in.",
  { body: acceptanceSchema, hasSecret: true },
);

export const changePerson = endpoint(
  "PATCH",
  "/api/people/{person}",
  "Changes somebody's role, suspends them, or takes them back.",
  { body: z.strictObject({ role: z.enum(STUDIO_ROLES).optional(), suspended: z.boolean().optional() }) },
);

export const resetPassword = endpoint(
  "POST",
  "/api/people/{person}/reset",
  "Makes a link by which somebody sets a new password.",
  { answer: secretAnswer, hasSecret: true },
);

export const listInvitations = endpoint("GET", "/api/invitations", "Invitations that can still be followed.", {
  answer: z.array(invitationViewSchema),
});

export const invite = endpoint(
  "POST",
  "/api/invitations",
  "Invites somebody: the answer has the secret of the link, told this once.",
  {
    body: z.strictObject({
      role: z.enum(STUDIO_ROLES),
      note: z.string().trim().max(200).default(""),
      project: z.strictObject({ id: z.uuid(), role: z.enum(PROJECT_ROLES) }).optional(),
    }),
    answer: secretAnswer,
    hasSecret: true,
  },
);

export const withdrawInvitation = endpoint(
  "DELETE",
  "/api/invitations/{invitation}",
  "Withdraws an invitation: its link leads nowhere from then on.",
);

export const listMembers = endpoint("GET", "/api/projects/{project}/members", "Who has a part in the project.", {
  answer: z.array(memberViewSchema),
});

export const setMember = endpoint(
  "PUT",
  "/api/projects/{project}/members",
  "Gives somebody a part in the project, another one, or none.",
  { body: z.strictObject({ person: z.uuid(), role: z.enum(PROJECT_ROLES).nullable() }) },
);

export const listActivity = endpoint("GET", "/api/activity", "The audit trail, newest first, a page at a time.", {
  query: z.strictObject({
    before: z.coerce.number<number | string>().int().positive().optional().describe("Only entries before this one."),
    project: z.uuid().optional(),
    words: z.string().trim().max(200).optional(),
  }),
  answer: z.array(auditEntrySchema),
  paged: true,
});
