import { keepPhoto as endpoint } from "@core/api/projects";
import { pool } from "@server/db/database";
import { keepPhoto } from "@server/ingest/photos";
import { inProject } from "@server/people/access";
import { keepBlobs } from "@server/projects/projects";
import { route } from "../../../respond";

export const POST = route(endpoint, inProject("edit", "edit"), async ({ params }, request) => {
  const kept = await keepPhoto(request);
  await keepBlobs(pool(), params.project, [kept.hash]);
  return kept;
});
