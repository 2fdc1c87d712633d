import * as z from "zod";
import { editProject } from "@core/api/projects";
import { blobsNamedIn } from "@core/project/project-file";
import { inProject, refuseByScope, refuseForeignContent } from "@server/people/access";
import { nameOf, noteSubject, principal } from "@server/people/principal";
import { edit } from "@server/projects/projects";
import { route } from "../../../respond";

/** An edit after which masters are rendered, and handed over, without being asked for. */
const automaticSchema = z.looseObject({ deliverable: z.looseObject({ automatic: z.looseObject({}) }) });

export const POST = route(
  editProject,
  inProject("edit", "edit"),
  async ({ params: { project }, body: { id, base, command } }) => {
    await refuseForeignContent(principal(), project, blobsNamedIn(command));
    if (automaticSchema.safeParse(command).success) refuseByScope(principal(), "render");
    const author = nameOf(principal());
    const { label, ...made } = await edit(project, { ...(id ? { id } : {}), base, command, author });
    noteSubject(label);
    return made;
  },
  "edited",
);
