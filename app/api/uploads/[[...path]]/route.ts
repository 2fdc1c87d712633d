import { projectOfUpload, uploadServer } from "@server/ingest/uploads";
import { inProject, inStudio } from "@server/people/access";
import { principal } from "@server/people/principal";
import { notFound } from "@server/problem";
import { plainRoute } from "../../respond";

const answer = plainRoute<{ path?: string[] }>(
  inStudio("guest", "edit"),
  async (request, { path: [id] = [] }) => {
    // A new one says its project in its description: the upload server asks for the role in it.
    if (id !== undefined) {
      const project = await projectOfUpload(id);
      if (project === undefined) throw notFound("upload under way");
      await inProject("edit", "edit").check(principal(), { project }, request);
    }
    return uploadServer().handleWeb(request);
  },
  null,
);

/** Begins an upload that can be taken up again (tus 1.0): its description names the file and the project. */
export const POST = answer;
/** Goes on with an upload. */
export const PATCH = answer;
/** How much of an upload has arrived. */
export const HEAD = answer;
/** Gives an upload up. */
export const DELETE = answer;
/** What the upload server can. */
export const OPTIONS = answer;
