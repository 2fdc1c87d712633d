/** Reviews: sent out by those who work in a project, opened by a link or by one's part in the project. */
import * as z from "zod";
import { hashSchema, nameSchema } from "../parameters/identifiers";
import { openReviewViewSchema, reviewPageSchema, reviewPreviewSchema, reviewViewSchema } from "../review/views";
import { secretSchema } from "./account";
import { content, endpoint } from "./endpoint";

const made = z.object({ id: z.string() });
const position = z.number().int().min(0);
const seconds = z.number().min(0).max(1e6);

export const listReviews = endpoint("GET", "/api/projects/{project}/reviews", "What was sent out, and what was said.", {
  answer: z.array(reviewViewSchema),
});

export const createReview = endpoint(
  "POST",
  "/api/projects/{project}/reviews",
  "Sends masters out for review: the answer has the secret of the link, told this once.",
  {
    body: z.strictObject({
      title: nameSchema,
      message: z.string().trim().max(4000),
      masters: z.array(z.uuid()).min(1, "at least one master is asked for").max(200),
      days: z.number().int().min(1).max(365),
      password: z.string().min(6, "at least six characters are asked for").max(200).nullable(),
      downloads: z.boolean(),
      blind: z.boolean(),
    }),
    answer: made.extend({ secret: z.string() }),
    hasSecret: true,
  },
);

export const withdrawReview = endpoint(
  "DELETE",
  "/api/projects/{project}/reviews/{review}",
  "Closes a review: its link leads nowhere from then on.",
);

export const changeRemark = endpoint(
  "PATCH",
  "/api/projects/{project}/remarks/{remark}",
  "Answers a remark, resolves it, or opens it again.",
  { body: z.strictObject({ answer: z.string().trim().max(4000).optional(), resolved: z.boolean().optional() }) },
);

export const listOpenReviews = endpoint(
  "GET",
  "/api/reviews",
  "Open reviews of the projects in which one has a part.",
  { answer: z.array(openReviewViewSchema) },
);

export const enterReviewAsMember = endpoint(
  "POST",
  "/api/reviews/{review}/enter",
  "Opens a review by one's part in its project, under one's own name; the answer sets its cookie.",
  { answer: made, hasSecret: true },
);

export const previewReview = endpoint(
  "POST",
  "/api/review/preview",
  "What a link leads to, without opening it. Its secret stands in the body: addresses are kept in too many places.",
  { body: z.strictObject({ secret: secretSchema }), answer: reviewPreviewSchema, hasSecret: true },
);

export const openReview = endpoint(
  "POST",
  "/api/review/open",
  "Opens a review by its link; the answer sets its cookie.",
  {
    body: z.strictObject({ secret: secretSchema, name: nameSchema, password: z.string().max(1000).default("") }),
    answer: made,
    hasSecret: true,
  },
);

export const getReview = endpoint("GET", "/api/review/{review}", "A review as its guest sees it.", {
  answer: reviewPageSchema,
});

export const getReviewSound = endpoint(
  "GET",
  "/api/review/{review}/files/{position}/sound",
  "The sound of a file, whole or in ranges: as it is, or the copy that plays anywhere.",
  { query: z.strictObject({ copy: z.literal("1").optional() }), answer: content("audio/*") },
);

export const downloadReviewFile = endpoint(
  "GET",
  "/api/review/{review}/files/{position}/download",
  "A file of the review, where downloads are allowed.",
  { answer: content("application/octet-stream") },
);

export const noteHeard = endpoint("POST", "/api/review/{review}/heard", "Notes what of a file was heard.", {
  body: z.strictObject({
    position,
    ranges: z.array(z.tuple([seconds, seconds]).readonly()).max(200),
    isNew: z.boolean().describe("Whether the guest began to play it."),
  }),
});

export const addRemark = endpoint("POST", "/api/review/{review}/remarks", "Remarks upon a time or a range.", {
  body: z.strictObject({
    position,
    at: z.number().min(0),
    end: z.number().min(0).nullable(),
    words: z.string().trim().min(1, "a remark says something").max(4000),
  }),
});

export const withdrawRemark = endpoint(
  "DELETE",
  "/api/review/{review}/remarks/{remark}",
  "Takes a remark of one's own back, while it is not answered.",
);

export const decideOnFile = endpoint("POST", "/api/review/{review}/verdicts", "Approves a file, or sends it back.", {
  body: z.strictObject({
    position,
    hash: hashSchema.describe("Of the file that was heard: a decision is of bytes."),
    approved: z.boolean(),
    words: z.string().trim().max(4000).default(""),
  }),
});
