import { keepPhoto } from "@server/ingest/photos";
import { inProject } from "@server/people/access";
import { keepBlobs } from "@server/projects/projects";
import { pool } from "@server/db/database";
import { route, uuidParam } from "../../../respond";

/** Keeps the picture in the body for the project. */
export const POST = route<{ project: string }>(inProject("edit", "edit"), async (request, params) => {
  const kept = await keepPhoto(request);
  await keepBlobs(pool(), uuidParam.parse(params.project), [kept.hash]);
  return kept;
});
