import * as z from "zod";
import { hashSchema } from "@core/project/document";
import { byReviewLink } from "@server/people/access";
import { decide } from "@server/review/guests";
import { body, guest, route } from "../../../respond";

const verdict = z.strictObject({
  position: z.number().int().min(0),
  /** Of the file that was heard: a decision is of bytes. */
  hash: hashSchema,
  approved: z.boolean(),
  words: z.string().trim().max(4000).default(""),
});

/** Approves a file, or sends it back. */
export const POST = route<{ review: string }>(byReviewLink, async (request, params) =>
  decide(await guest(request, params), await body(request, verdict)),
);
