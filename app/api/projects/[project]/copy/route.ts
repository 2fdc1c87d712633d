import { copyProject } from "@server/projects/shelves";
import { both, inProject, inStudio } from "@server/people/access";
import { giveToCreator } from "@server/people/people";
import { nameOf, visitor } from "@server/people/visitor";
import { route, uuidParam } from "../../../respond";

/** Makes a project of another as it is now: without its history and its masters. */
export const POST = route<{ project: string }>(
  both(inProject("listen", "edit"), inStudio("assistant", "edit")),
  async (_request, params) => {
    const made = await copyProject(uuidParam.parse(params.project), nameOf(visitor()));
    await giveToCreator(visitor(), made.id);
    return made;
  },
  "duplicated a project",
);
