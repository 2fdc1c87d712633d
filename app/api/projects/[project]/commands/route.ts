import { editProject } from "@core/api/projects";
import { blobsNamedIn } from "@core/project/project-file";
import { inProject, refuseForeignContent } from "@server/people/access";
import { nameOf, noteSubject, principal } from "@server/people/principal";
import { edit } from "@server/projects/projects";
import { route } from "../../../respond";

export const POST = route(
  editProject,
  inProject("edit", "edit"),
  async ({ params: { project }, body: { id, base, command } }) => {
    await refuseForeignContent(principal(), project, blobsNamedIn(command));
    const author = nameOf(principal());
    const { label, ...made } = await edit(project, { ...(id ? { id } : {}), base, command, author });
    noteSubject(label);
    return made;
  },
  "edited",
);
