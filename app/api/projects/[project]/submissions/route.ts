import * as z from "zod";
import { idSchema } from "@core/project/document";
import { requestSubmission } from "@server/delivery/submission";
import { body, route, uuidParam } from "../../../respond";

const asked = z.strictObject({ receiver: idSchema, deliverable: idSchema });

/** Hands the masters of a deliverable to a receiver, as a job. */
export const POST = route<{ project: string }>(async (request, params) => {
  const { receiver, deliverable } = await body(request, asked);
  return requestSubmission(uuidParam.parse(params.project), receiver, deliverable);
});
