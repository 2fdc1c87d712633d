import { openReview } from "@core/api/reviews";
import { anyone } from "@server/people/access";
import { principal } from "@server/people/principal";
import { enterReview } from "@server/review/guests";
import { route } from "../../respond";

export const POST = route(openReview, anyone, async ({ body }) => {
  const { id, cookie } = await enterReview(body, principal().address);
  return Response.json({ id }, { headers: { "Set-Cookie": cookie, "Cache-Control": "no-store" } });
});
