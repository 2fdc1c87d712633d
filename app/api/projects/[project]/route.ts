import * as z from "zod";
import { nameSchema } from "@core/project/document";
import { removeProject, renameProject, shelveProject } from "@server/projects/shelves";
import { submissionsOf } from "@server/delivery/submission";
import { projectFacts } from "@server/rendering/project-facts";
import { jobsOf } from "@server/queue/queue";
import { approvalsOf } from "@server/review/reviews";
import { uploadsOf } from "@server/ingest/uploads";
import { both, inProject, inStudio, roleInProject } from "@server/people/access";
import { nameOf, visitor } from "@server/people/visitor";
import { body, route, uuidParam } from "../../respond";

/** The project as it is: document, recordings, masters, uploads, jobs. */
export const GET = route<{ project: string }>(inProject("listen", "read"), async (_request, params) => {
  const id = uuidParam.parse(params.project);
  const [project, uploads, submissions, approvals, jobs, role] = await Promise.all([
    projectFacts(id),
    uploadsOf(id),
    submissionsOf(id),
    approvalsOf(id),
    jobsOf(id),
    roleInProject(visitor(), id),
  ]);
  return { ...project, uploads, submissions, approvals, jobs, role };
});

/** Removes a project that lies in the bin for good. */
export const DELETE = route<{ project: string }>(
  both(inProject("edit", "edit"), inStudio("engineer", "edit")),
  async (_request, params) => removeProject(uuidParam.parse(params.project)),
  "removed a project for good",
);

const change = z.strictObject({
  name: nameSchema.optional(),
  /** `null` takes it out again. */
  shelf: z.enum(["archive", "bin"]).nullable().optional(),
});

/** Renames a project, or puts it away. */
export const PATCH = route<{ project: string }>(
  inProject("edit", "edit"),
  async (request, params) => {
    const project = uuidParam.parse(params.project);
    const { name, shelf } = await body(request, change);
    if (name !== undefined) await renameProject(project, name, nameOf(visitor()));
    if (shelf !== undefined) await shelveProject(project, shelf);
  },
  "renamed a project, or put it away",
);
