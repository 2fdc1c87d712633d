import * as z from "zod";
import { nameSchema } from "@core/project/document";
import { inProject } from "@server/people/access";
import { isAbout, visitor } from "@server/people/visitor";
import { createReview, reviewsOf } from "@server/review/reviews";
import { body, route, uuidParam } from "../../../respond";

/** Reviews of the project, with what was said, decided and heard. */
export const GET = route<{ project: string }>(inProject("listen", "read"), async (_request, params) =>
  reviewsOf(uuidParam.parse(params.project)),
);

const wanted = z.strictObject({
  title: nameSchema,
  message: z.string().trim().max(4000),
  masters: z.array(z.uuid()).min(1, "at least one master is asked for").max(200),
  days: z.number().int().min(1).max(365),
  password: z.string().min(6, "at least six characters are asked for").max(200).nullable(),
  downloads: z.boolean(),
  blind: z.boolean(),
});

/** Sends masters out for review: the answer has the secret of the link, told this once. */
export const POST = route<{ project: string }>(
  inProject("edit", "render"),
  async (request, params) => {
    const given = await body(request, wanted);
    isAbout(given.title);
    return createReview(visitor(), uuidParam.parse(params.project), given);
  },
  "sent masters out for review",
);
