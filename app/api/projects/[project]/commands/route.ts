import * as z from "zod";
import { blobsNamedIn } from "@core/project/project-file";
import { edit } from "@server/projects/projects";
import { inProject, refuseForeignContent } from "@server/people/access";
import { isAbout, nameOf, visitor } from "@server/people/visitor";
import { body, route, uuidParam } from "../../../respond";

const edition = z.strictObject({
  /** Sent again with the same id, an edit is answered again and not made again. */
  id: z.uuid().optional(),
  base: z.number().int(),
  command: z.looseObject({ type: z.string() }),
});

/** Makes an edit on the state that it was made from; 409 where it contradicts one that came between. */
export const POST = route<{ project: string }>(
  inProject("edit", "edit"),
  async (request, params) => {
    const { id, base, command } = await body(request, edition);
    const project = uuidParam.parse(params.project);
    await refuseForeignContent(visitor(), project, blobsNamedIn(command));
    const author = nameOf(visitor());
    const { label, ...made } = await edit(project, { ...(id ? { id } : {}), base, command, author });
    isAbout(label);
    return made;
  },
  "edited",
);
