import * as z from "zod";
import { PROJECT_ROLES, STUDIO_ROLES } from "@core/people/roles";
import { inStudio } from "@server/people/access";
import { invite, openInvitations } from "@server/people/invitations";
import { visitor } from "@server/people/visitor";
import { openProject } from "@server/projects/projects";
import { body, route } from "../respond";

/** Invitations that can still be followed. */
export const GET = route(inStudio("engineer", null), () => openInvitations());

const invitation = z.strictObject({
  role: z.enum(STUDIO_ROLES),
  note: z.string().trim().max(200).default(""),
  project: z.strictObject({ id: z.uuid(), role: z.enum(PROJECT_ROLES) }).optional(),
});

/** Invites somebody: the answer has the secret of the link, told this once. */
export const POST = route(inStudio("engineer", null), async (request) => {
  const wanted = await body(request, invitation);
  if (wanted.project) await openProject(wanted.project.id); // which there must be
  return invite(visitor(), wanted);
});
