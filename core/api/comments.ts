/** Comments among the team. */
import * as z from "zod";
import { commentSchema, newCommentSchema } from "../project/comment";
import { endpoint } from "./endpoint";

export const listComments = endpoint(
  "GET",
  "/api/projects/{project}/comments",
  "What the team says of the project's items, in the order of time.",
  { answer: z.array(commentSchema) },
);

export const addComment = endpoint(
  "POST",
  "/api/projects/{project}/comments",
  "Comments on an item, on a place in it, or answers a comment.",
  { body: newCommentSchema, answer: commentSchema },
);

export const resolveComment = endpoint(
  "PATCH",
  "/api/projects/{project}/comments/{comment}",
  "Says that a comment is seen to, or not.",
  { body: z.strictObject({ resolved: z.boolean() }) },
);

export const removeComment = endpoint(
  "DELETE",
  "/api/projects/{project}/comments/{comment}",
  "Removes a comment of one's own that nobody else has answered.",
);
