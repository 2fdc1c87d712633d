import { invite as endpoint, listInvitations } from "@core/api/people";
import { inStudio } from "@server/people/access";
import { invite, openInvitations } from "@server/people/invitations";
import { principal } from "@server/people/principal";
import { openProject } from "@server/projects/projects";
import { route } from "../respond";

export const GET = route(listInvitations, inStudio("engineer", null), () => openInvitations());

export const POST = route(endpoint, inStudio("engineer", null), async ({ body }) => {
  if (body.project) await openProject(body.project.id); // which there must be
  return invite(principal(), body);
});
