import * as z from "zod";
import { nameSchema } from "@core/project/document";
import { removeProject, renameProject, shelveProject } from "@server/projects/shelves";
import { submissionsOf } from "@server/delivery/submission";
import { projectFacts } from "@server/rendering/project-facts";
import { jobsOf } from "@server/queue/queue";
import { uploadsOf } from "@server/ingest/uploads";
import { body, route, uuidParam } from "../../respond";

/** The project as it is: document, recordings, masters, uploads, jobs. */
export const GET = route<{ project: string }>(async (_request, params) => {
  const id = uuidParam.parse(params.project);
  const [project, uploads, submissions, jobs] = await Promise.all([
    projectFacts(id),
    uploadsOf(id),
    submissionsOf(id),
    jobsOf(id),
  ]);
  return { ...project, uploads, submissions, jobs };
});

/** Removes a project that lies in the bin for good. */
export const DELETE = route<{ project: string }>(async (_request, params) =>
  removeProject(uuidParam.parse(params.project)),
);

const change = z.strictObject({
  name: nameSchema.optional(),
  /** `null` takes it out again. */
  shelf: z.enum(["archive", "bin"]).nullable().optional(),
});

/** Renames a project, or puts it away. */
export const PATCH = route<{ project: string }>(async (request, params) => {
  const project = uuidParam.parse(params.project);
  const { name, shelf } = await body(request, change);
  if (name !== undefined) await renameProject(project, name);
  if (shelf !== undefined) await shelveProject(project, shelf);
});
