/** What belongs to a review: its files, the remarks and the decisions about them. */
import type { Remark, ReviewFile, ReviewVerdict } from "@core/review/views";
import { rows } from "../db/database";

const filesOf = (review: string): Promise<ReviewFile[]> =>
  rows<ReviewFile>(
    `select position, item_id, deliverable_id, title, label, file_name, media_type, file_hash, seconds, integrated_lufs,
       copy_hash is not null as has_copy, copy_problem, outline
     from review_file where review_id = $1 order by position`,
    [review],
  );

const remarksOf = (review: string, guest: string | null): Promise<Remark[]> =>
  rows<Remark>(
    `select remark.id, position, name, at_seconds, end_seconds, words, created_at, answer, answered_by, resolved_at,
       guest_id is not distinct from $2 as own
     from remark join review_guest guest on guest.id = guest_id where remark.review_id = $1
     order by position, at_seconds, created_at`,
    [review, guest],
  );

const verdictsOf = (review: string): Promise<ReviewVerdict[]> =>
  rows<ReviewVerdict>(
    `select position, name, approved, words, file_hash, created_at
     from review_verdict v join review_guest guest on guest.id = guest_id where v.review_id = $1
     order by created_at desc`,
    [review],
  );

/** @param guest whose remarks are their own; `null` for those who sent it */
export async function factsOfReview(review: string, guest: string | null) {
  const [files, remarks, verdicts] = await Promise.all([filesOf(review), remarksOf(review, guest), verdictsOf(review)]);
  return { files, remarks, verdicts };
}
