/** Comments: what the team says to one another of an item, or of a place in it. */
import * as z from "zod";
import { instantSchema } from "../audio/instant";
import { idSchema } from "./document";

const frameSchema = z.number().int().nonnegative().max(Number.MAX_SAFE_INTEGER);

export const newCommentSchema = z.strictObject({
  item: idSchema,
  start: frameSchema.nullable().describe("Frame of its recording; null of a comment on the whole item."),
  end: frameSchema.nullable().describe("Frame after the last of a range."),
  words: z.string().trim().min(1).max(2000),
  thread: z.uuid().nullable().describe("The comment that it answers."),
});
export type NewComment = z.infer<typeof newCommentSchema>;

export const commentSchema = z
  .object({
    id: z.string(),
    item_id: z.string(),
    start: frameSchema.nullable(),
    end: frameSchema.nullable(),
    thread: z.string().nullable(),
    name: z.string().describe("Who has written it."),
    own: z.boolean().describe("Whether whoever asks has written it."),
    words: z.string(),
    created_at: instantSchema,
    resolved_at: instantSchema.nullable(),
    resolved_by: z.string().nullable(),
  })
  .meta({ id: "Comment" });
export type Comment = z.infer<typeof commentSchema>;

/** A comment with what was answered to it, in the order of time. */
export interface CommentThread extends Comment {
  answers: Comment[];
}

/** @param comments in the order of time */
export const threadsOf = (comments: readonly Comment[]): CommentThread[] =>
  comments
    .filter(({ thread }) => thread === null)
    .map((first) => ({ ...first, answers: comments.filter(({ thread }) => thread === first.id) }));
