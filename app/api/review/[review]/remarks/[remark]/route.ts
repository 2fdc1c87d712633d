import { byReviewLink } from "@server/people/access";
import { withdrawRemark } from "@server/review/guests";
import { guest, route, uuidParam } from "../../../../respond";

/** Takes an own remark back that nobody has answered. */
export const DELETE = route<{ review: string; remark: string }>(byReviewLink, async (request, params) =>
  withdrawRemark(await guest(request, params), uuidParam.parse(params.remark)),
);
