import { enterReviewAsMember } from "@core/api/reviews";
import { ofReview } from "@server/people/access";
import { principal } from "@server/people/principal";
import { enterAsMember } from "@server/review/guests";
import { route } from "../../../respond";

export const POST = route(
  enterReviewAsMember,
  ofReview("review", null),
  async ({ params }) => {
    const { id, cookie } = await enterAsMember(params.review, principal());
    return Response.json({ id }, { headers: { "Set-Cookie": cookie, "Cache-Control": "no-store" } });
  },
  "opened a review",
);
