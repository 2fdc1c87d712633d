/** What the server tells of reviews, as it goes over the wire. */
import * as z from "zod";
import { instantSchema } from "../audio/instant";

export const remarkSchema = z.object({
  id: z.string(),
  position: z.number().int(),
  name: z.string(),
  at_seconds: z.number(),
  end_seconds: z.number().nullable().describe("Null of a remark at one time."),
  words: z.string(),
  created_at: instantSchema,
  answer: z.string().nullable(),
  answered_by: z.string().nullable(),
  resolved_at: instantSchema.nullable(),
  own: z.boolean().describe("Whether whoever asks has made it."),
});
export type Remark = z.infer<typeof remarkSchema>;

/** A decision about a file: of its bytes, not of its name. */
export const reviewVerdictSchema = z.object({
  position: z.number().int(),
  name: z.string(),
  approved: z.boolean(),
  words: z.string(),
  file_hash: z.string(),
  created_at: instantSchema,
});
export type ReviewVerdict = z.infer<typeof reviewVerdictSchema>;

export const reviewFileSchema = z.object({
  position: z.number().int(),
  item_id: z.string(),
  deliverable_id: z.string(),
  title: z.string(),
  label: z.string().describe("What tells it from others of the same title."),
  file_name: z.string(),
  media_type: z.string(),
  file_hash: z.string(),
  seconds: z.number(),
  integrated_lufs: z.number().nullable(),
  has_copy: z.boolean().describe("Whether a copy is there that plays anywhere."),
  copy_problem: z.string().nullable().describe("Why there will be none."),
  outline: z
    .array(z.number())
    .nullable()
    .describe(
      "Highest levels of equal parts, 0…1; how loud they are until there is a copy; null where neither is known.",
    ),
});
export type ReviewFile = z.infer<typeof reviewFileSchema>;

/** What a link says before it is opened. */
export const reviewPreviewSchema = z.object({
  id: z.string(),
  title: z.string(),
  from: z.string(),
  needsPassword: z.boolean(),
});
export type ReviewPreview = z.infer<typeof reviewPreviewSchema>;

/** A review that somebody may open by their part in the project. */
export const openReviewViewSchema = z.object({
  id: z.string(),
  title: z.string(),
  from: z.string(),
  expires_at: instantSchema,
});
export type OpenReviewView = z.infer<typeof openReviewViewSchema>;

/** What a guest sees. */
export const reviewPageSchema = z.object({
  id: z.string(),
  title: z.string(),
  message: z.string(),
  from: z.string(),
  name: z.string().describe("The name that the guest gave."),
  downloads: z.boolean(),
  blind: z.boolean(),
  expires_at: instantSchema,
  files: z.array(reviewFileSchema),
  remarks: z.array(remarkSchema),
  verdicts: z.array(reviewVerdictSchema),
});
export type ReviewPage = z.infer<typeof reviewPageSchema>;

const rangeSchema = z.tuple([z.number(), z.number()]).readonly().describe("From and to, seconds.");

export const heardSchema = z.object({
  position: z.number().int(),
  name: z.string(),
  ranges: z.array(rangeSchema),
  plays: z.number().int(),
  heard_at: instantSchema,
});
export type Heard = z.infer<typeof heardSchema>;

/** A review as those who sent it see it. */
export const reviewViewSchema = reviewPageSchema.omit({ name: true, from: true }).extend({
  created_by: z.string(),
  created_at: instantSchema,
  withdrawn_at: instantSchema.nullable(),
  has_password: z.boolean(),
  guests: z.array(z.string()).describe("Names of those who opened it."),
  heard: z.array(heardSchema),
});
export type ReviewView = z.infer<typeof reviewViewSchema>;

/** The latest decision about masters of an item and a deliverable. */
export const approvalSchema = reviewVerdictSchema.omit({ position: true }).extend({
  item_id: z.string(),
  deliverable_id: z.string(),
});
export type Approval = z.infer<typeof approvalSchema>;
