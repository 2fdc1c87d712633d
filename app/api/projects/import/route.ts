import { importProject as endpoint } from "@core/api/projects";
import { inStudio } from "@server/people/access";
import { giveToCreator } from "@server/people/people";
import { nameOf, noteSubject, principal } from "@server/people/principal";
import { Problem } from "@server/problem";
import { importProject } from "@server/projects/import-project";
import { heavyRoute } from "../../respond";

export const POST = heavyRoute(
  endpoint,
  inStudio("assistant", "edit"),
  async (_given, request) => {
    if (!request.body) throw new Problem(400, "Nothing arrived", "The request has no file in its body.");
    const length = Number(request.headers.get("content-length"));
    const made = await importProject(request.body, length, nameOf(principal()));
    await giveToCreator(principal(), made.id);
    noteSubject("", made.id);
    return made;
  },
  "imported a project",
);
