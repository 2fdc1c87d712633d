import { importProject } from "@server/projects/import-project";
import { Problem } from "@server/problem";
import { heavyRoute } from "../../respond";

/** Takes in a project that was exported: the file is the request's body. Tells which recordings did not come with it. */
export const POST = heavyRoute(async (request) => {
  if (!request.body) throw new Problem(400, "Nothing arrived", "The request has no file in its body.");
  return importProject(request.body, Number(request.headers.get("content-length")));
});
