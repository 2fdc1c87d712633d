import * as z from "zod";
import { inProject } from "@server/people/access";
import { visitor } from "@server/people/visitor";
import { changeRemark } from "@server/review/reviews";
import { body, route, uuidParam } from "../../../../respond";

const change = z.strictObject({ answer: z.string().trim().max(4000).optional(), resolved: z.boolean().optional() });

/** Answers a remark, resolves it, or opens it again. */
export const PATCH = route<{ project: string; remark: string }>(inProject("edit", "edit"), async (request, params) =>
  changeRemark(visitor(), uuidParam.parse(params.project), uuidParam.parse(params.remark), await body(request, change)),
);
