import { changeProject, getProject, removeProject as removeEndpoint } from "@core/api/projects";
import { automaticDeliveriesOf } from "@server/delivery/automatic-delivery";
import { submissionsOf } from "@server/delivery/submission";
import { uploadsOf } from "@server/ingest/uploads";
import { both, inProject, inStudio, roleInProject } from "@server/people/access";
import { nameOf, principal } from "@server/people/principal";
import { notFound } from "@server/problem";
import { removeProject, renameProject, shelveProject } from "@server/projects/shelves";
import { jobsOf } from "@server/queue/queue";
import { projectFacts } from "@server/rendering/project-facts";
import { approvalsOf } from "@server/review/reviews";
import { route } from "../../respond";

export const GET = route(getProject, inProject("listen", "read"), async ({ params: { project: id } }) => {
  const [project, uploads, submissions, automatic, approvals, jobs, role] = await Promise.all([
    projectFacts(id),
    uploadsOf(id),
    submissionsOf(id),
    automaticDeliveriesOf(id),
    approvalsOf(id),
    jobsOf(id),
    roleInProject(principal(), id),
  ]);
  // Their part in it was taken away, or the project removed, while it was read.
  if (role === null) throw notFound("project");
  return { ...project, uploads, submissions, automatic, approvals, jobs, role };
});

export const DELETE = route(
  removeEndpoint,
  both(inProject("edit", "edit"), inStudio("engineer", "edit")),
  ({ params }) => removeProject(params.project),
  "removed a project for good",
);

export const PATCH = route(
  changeProject,
  inProject("edit", "edit"),
  async ({ params: { project }, body: { name, shelf } }) => {
    if (name !== undefined) await renameProject(project, name, nameOf(principal()));
    if (shelf !== undefined) await shelveProject(project, shelf);
  },
  "renamed a project, or put it away",
);
