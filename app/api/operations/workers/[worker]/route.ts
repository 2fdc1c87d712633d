import { drainWorker as drainEndpoint, removeWorker as removeEndpoint } from "@core/api/operations";
import { inStudio } from "@server/people/access";
import { drainWorker, removeWorker } from "@server/queue/workers";
import { route } from "../../../respond";

export const PATCH = route(
  drainEndpoint,
  inStudio("owner", "manage"),
  ({ params, body }) => drainWorker(params.worker, body.drained),
  "drained a worker, or took it up again",
);

export const DELETE = route(
  removeEndpoint,
  inStudio("owner", "manage"),
  ({ params }) => removeWorker(params.worker),
  "removed a worker",
);
