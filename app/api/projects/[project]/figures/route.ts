import * as z from "zod";
import { idSchema } from "@core/project/document";
import { requestItemFigures } from "@server/rendering/item-figures";
import { inProject } from "@server/people/access";
import { body, route, uuidParam } from "../../../respond";

const wanted = z.strictObject({ items: z.array(idSchema).min(1).max(2000) });

/** Asks for the figures of items after repairs, cuts and chain; the project tells them once they are measured. */
export const POST = route<{ project: string }>(inProject("listen", "read"), async (request, params) => {
  const project = uuidParam.parse(params.project);
  const { items } = await body(request, wanted);
  await requestItemFigures(project, items);
  return {};
});
