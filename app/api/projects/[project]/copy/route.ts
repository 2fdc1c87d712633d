import { copyProject as endpoint } from "@core/api/projects";
import { both, inProject, inStudio } from "@server/people/access";
import { giveToCreator } from "@server/people/people";
import { nameOf, principal } from "@server/people/principal";
import { copyProject } from "@server/projects/shelves";
import { route } from "../../../respond";

export const POST = route(
  endpoint,
  both(inProject("listen", "edit"), inStudio("assistant", "edit")),
  async ({ params }) => {
    const made = await copyProject(params.project, nameOf(principal()));
    await giveToCreator(principal(), made.id);
    return made;
  },
  "duplicated a project",
);
