"use client";

import { useState } from "react";
import { useCurrentItem } from "@ui/state/current-item";
import { useReviews } from "@ui/state/reviews";
import { SecretShown } from "@ui/features/people/secret-shown";
import { NewReview } from "./new-review";
import { SentReview } from "./sent-review";

/** Masters sent out by links to be heard: made here, with what came back. */
export function ReviewsView() {
  const { view } = useCurrentItem();
  const reviews = useReviews(view.id);
  const [secret, setSecret] = useState<string | null>(null);
  return (
    <div className="flex flex-col gap-3 px-4 py-2">
      <NewReview onMade={setSecret} />
      {secret && (
        <SecretShown
          label="Send this link, which is told this once"
          secret={`${location.origin}/review#${secret}`}
          onDone={() => setSecret(null)}
        />
      )}
      {reviews?.length === 0 && (
        <p className="text-soft">
          Nothing was sent out yet. A review is a page behind a link: whoever has it hears the masters, remarks at a
          time, and approves or sends back exactly these bytes.
        </p>
      )}
      {reviews?.map((review) => (
        <SentReview key={review.id} review={review} />
      ))}
    </div>
  );
}
