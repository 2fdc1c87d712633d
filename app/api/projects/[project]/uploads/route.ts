import { discardUpload as discardEndpoint, takeArrived as takeEndpoint } from "@core/api/recordings";
import { discardUpload, takeArrived } from "@server/ingest/uploads";
import { inProject } from "@server/people/access";
import { route } from "../../../respond";

export const DELETE = route(
  discardEndpoint,
  inProject("edit", "edit"),
  ({ params, body }) => discardUpload(params.project, body.upload),
  "discarded an upload",
);

export const POST = route(
  takeEndpoint,
  inProject("edit", "edit"),
  ({ params, body }) => takeArrived(params.project, body.upload),
  "took in what had arrived",
);
