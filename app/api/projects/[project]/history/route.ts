import { listHistory, nameState as nameEndpoint } from "@core/api/projects";
import { Page } from "@server/http/page";
import { inProject } from "@server/people/access";
import { HISTORY_PAGE, historyOf, nameState, versionsOf } from "@server/projects/projects";
import { route } from "../../../respond";

export const GET = route(listHistory, inProject("listen", "read"), async ({ params: { project }, query }) => {
  if (query.named) return new Page(await versionsOf(project), null);
  const states = await historyOf(project, query.before ?? null);
  return new Page(states, states.length < HISTORY_PAGE ? null : { before: states.at(-1)!.id });
});

export const PATCH = route(
  nameEndpoint,
  inProject("edit", "edit"),
  ({ params, body }) => nameState(params.project, body.state, body.name),
  "named a version",
);
