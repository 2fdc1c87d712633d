import * as z from "zod";
import { byReviewLink } from "@server/people/access";
import { addRemark } from "@server/review/guests";
import { body, guest, route } from "../../../respond";

const remark = z.strictObject({
  position: z.number().int().min(0),
  at: z.number().min(0),
  end: z.number().min(0).nullable(),
  words: z.string().trim().min(1, "a remark says something").max(4000),
});

/** Remarks upon a file at a time, or over a range. */
export const POST = route<{ review: string }>(byReviewLink, async (request, params) =>
  addRemark(await guest(request, params), await body(request, remark)),
);
