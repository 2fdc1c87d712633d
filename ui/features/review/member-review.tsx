"use client";

import { useQuery } from "@tanstack/react-query";
import { api } from "@ui/api/api";
import { Entrance } from "@ui/features/people/entrance";
import { Review } from "./review-page";

/** A review as somebody sees it who has a part in its project: under their own name, without a link. */
export function MemberReview({ review }: { review: string }) {
  const { data, error } = useQuery({
    queryKey: ["review-entered", review],
    staleTime: Infinity, // once a page: each is another guest
    retry: false,
    queryFn: () => api("POST /api/reviews/{review}/enter", { params: { review } }),
  });
  if (error)
    return (
      <Entrance title="This review is not open">
        <p>{error.message}</p>
      </Entrance>
    );
  return data ? <Review id={data.id} /> : <Entrance title="Opening the review …">{null}</Entrance>;
}
