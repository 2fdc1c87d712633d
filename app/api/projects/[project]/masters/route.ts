import * as z from "zod";
import { idSchema } from "@core/project/document";
import { requestMaster } from "@server/rendering/masters";
import { inProject } from "@server/people/access";
import { body, route, uuidParam } from "../../../respond";

const wanted = z.strictObject({
  masters: z
    .array(z.strictObject({ item: idSchema, deliverable: idSchema }))
    .min(1)
    .max(2000),
});

/** Asks for masters; those that are there already are given back. */
export const POST = route<{ project: string }>(
  inProject("edit", "render"),
  async (request, params) => {
    const project = uuidParam.parse(params.project);
    const { masters } = await body(request, wanted);
    const asked = [];
    for (const { item, deliverable } of masters) asked.push(await requestMaster(project, item, deliverable));
    return asked;
  },
  "asked for masters",
);
