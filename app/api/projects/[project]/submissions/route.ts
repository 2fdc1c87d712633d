import { submitMasters } from "@core/api/masters";
import { requestSubmission } from "@server/delivery/submission";
import { inProject } from "@server/people/access";
import { route } from "../../../respond";

export const POST = route(
  submitMasters,
  inProject("edit", "render"),
  ({ params, body }) => requestSubmission(params.project, body.receiver, body.deliverable),
  "handed masters over",
);
