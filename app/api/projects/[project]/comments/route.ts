import { addComment as addEndpoint, listComments } from "@core/api/comments";
import { inProject } from "@server/people/access";
import { addComment, commentsOf } from "@server/people/comments";
import { principal } from "@server/people/principal";
import { route } from "../../../respond";

export const GET = route(listComments, inProject("listen", "read"), ({ params }) =>
  commentsOf(principal(), params.project),
);

export const POST = route(
  addEndpoint,
  inProject("listen", "edit"),
  ({ params, body }) => addComment(principal(), params.project, body),
  "commented",
);
