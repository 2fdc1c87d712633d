import { ofReview } from "@server/people/access";
import { visitor } from "@server/people/visitor";
import { enterAsMember } from "@server/review/guests";
import { route, uuidParam } from "../../../respond";

/** Opens a review by one's part in its project, under one's own name; the answer sets its cookie. */
export const POST = route<{ review: string }>(
  ofReview("review", null),
  async (_request, params) => {
    const { id, cookie } = await enterAsMember(uuidParam.parse(params.review), visitor());
    return Response.json({ id }, { headers: { "Set-Cookie": cookie, "Cache-Control": "no-store" } });
  },
  "opened a review",
);
