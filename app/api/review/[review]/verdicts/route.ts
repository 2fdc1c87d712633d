import { decideOnFile } from "@core/api/reviews";
import { byReviewLink, guestOf, decide } from "@server/review/guests";
import { route } from "../../../respond";

export const POST = route(decideOnFile, byReviewLink, async ({ params, body }, request) =>
  decide(await guestOf(request, params.review), body),
);
