import { moveHead as endpoint } from "@core/api/projects";
import { inProject } from "@server/people/access";
import { moveHead } from "@server/projects/projects";
import { route } from "../../../respond";

export const POST = route(
  endpoint,
  inProject("edit", "edit"),
  ({ params, body: { id, base, ...move } }) => moveHead(params.project, base, move, id),
  "went to another state",
);
