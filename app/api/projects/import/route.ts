import { importProject } from "@server/projects/import-project";
import { Problem } from "@server/problem";
import { inStudio } from "@server/people/access";
import { giveToCreator } from "@server/people/people";
import { isAbout, nameOf, visitor } from "@server/people/visitor";
import { heavyRoute } from "../../respond";

/** Takes in a project that was exported: the file is the request's body. Tells which recordings did not come with it. */
export const POST = heavyRoute(
  inStudio("assistant", "edit"),
  async (request) => {
    if (!request.body) throw new Problem(400, "Nothing arrived", "The request has no file in its body.");
    const length = Number(request.headers.get("content-length"));
    const made = await importProject(request.body, length, nameOf(visitor()));
    await giveToCreator(visitor(), made.id);
    isAbout("", made.id);
    return made;
  },
  "imported a project",
);
