import * as z from "zod";
import { idSchema } from "@core/project/document";
import { requestSubmission } from "@server/delivery/submission";
import { inProject } from "@server/people/access";
import { body, route, uuidParam } from "../../../respond";

const asked = z.strictObject({ receiver: idSchema, deliverable: idSchema });

/** Hands the masters of a deliverable to a receiver, as a job. */
export const POST = route<{ project: string }>(
  inProject("edit", "render"),
  async (request, params) => {
    const { receiver, deliverable } = await body(request, asked);
    return requestSubmission(uuidParam.parse(params.project), receiver, deliverable);
  },
  "handed masters over",
);
