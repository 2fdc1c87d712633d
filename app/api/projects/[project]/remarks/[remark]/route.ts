import { changeRemark as endpoint } from "@core/api/reviews";
import { inProject } from "@server/people/access";
import { principal } from "@server/people/principal";
import { changeRemark } from "@server/review/reviews";
import { route } from "../../../../respond";

export const PATCH = route(endpoint, inProject("edit", "edit"), ({ params, body }) =>
  changeRemark(principal(), params.project, params.remark, body),
);
