import * as z from "zod";
import { anyone } from "@server/people/access";
import { previewReview } from "@server/review/guests";
import { body, route } from "../../respond";
import { secretSchema } from "../../schemas";

/** What a link for review says before it is opened. */
export const POST = route(anyone, async (request) =>
  previewReview((await body(request, z.strictObject({ secret: secretSchema }))).secret),
);
