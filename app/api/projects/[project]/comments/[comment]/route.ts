import { removeComment as removeEndpoint, resolveComment as resolveEndpoint } from "@core/api/comments";
import { inProject } from "@server/people/access";
import { removeComment, resolveComment } from "@server/people/comments";
import { principal } from "@server/people/principal";
import { route } from "../../../../respond";

export const PATCH = route(
  resolveEndpoint,
  inProject("listen", "edit"),
  ({ params: { project, comment }, body }) => resolveComment(principal(), project, comment, body.resolved),
  "resolved a comment",
);

export const DELETE = route(
  removeEndpoint,
  inProject("listen", "edit"),
  ({ params: { project, comment } }) => removeComment(principal(), project, comment),
  "removed a comment",
);
