import * as z from "zod";
import { byReviewLink } from "@server/people/access";
import { noteHeard } from "@server/review/guests";
import { body, guest, route } from "../../../respond";

const seconds = z.number().min(0).max(1e6);
const heard = z.strictObject({
  position: z.number().int().min(0),
  ranges: z.array(z.tuple([seconds, seconds])).max(200),
  /** Whether the guest began to play it. */
  isNew: z.boolean(),
});

/** Tells what of a file was heard. */
export const POST = route<{ review: string }>(byReviewLink, async (request, params) =>
  noteHeard(await guest(request, params), await body(request, heard)),
);
