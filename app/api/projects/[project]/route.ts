import { submissionsOf } from "@server/delivery/submission";
import { itemFiguresOf } from "@server/rendering/item-figures";
import { mastersOf } from "@server/rendering/masters";
import { openProject } from "@server/projects/projects";
import { jobsOf } from "@server/queue/queue";
import { findSources } from "@server/projects/sources";
import { uploadsOf } from "@server/ingest/uploads";
import { route, uuidParam } from "../../respond";

/** The project as it is: document, recordings, masters, uploads, jobs. */
export const GET = route<{ project: string }>(async (_request, params) => {
  const id = uuidParam.parse(params.project);
  const project = await openProject(id);
  const sources = await findSources(project.document.sources.map(({ hash }) => hash));
  const [masters, itemFigures, uploads, submissions, jobs] = await Promise.all([
    mastersOf(id),
    itemFiguresOf(project.document, sources),
    uploadsOf(id),
    submissionsOf(id),
    jobsOf(id),
  ]);
  return { ...project, sources, masters, itemFigures, uploads, submissions, jobs };
});
