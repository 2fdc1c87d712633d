import { presenceSchema } from "@core/people/presence";
import { publish } from "@server/db/notifications";
import { inProject } from "@server/people/access";
import { nameOf, visitor } from "@server/people/visitor";
import { body, route, uuidParam } from "../../../respond";

/** Tells everybody else in the project where one is. */
export const POST = route<{ project: string }>(inProject("listen", "read"), async (request, params) => {
  const presence = { ...(await body(request, presenceSchema)), name: nameOf(visitor()) };
  await publish({ topic: "presence", project: uuidParam.parse(params.project), presence });
});
