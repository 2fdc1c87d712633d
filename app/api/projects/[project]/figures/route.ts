import { requestFigures } from "@core/api/projects";
import { inProject } from "@server/people/access";
import { requestItemFigures } from "@server/rendering/item-figures";
import { route } from "../../../respond";

export const POST = route(requestFigures, inProject("listen", "read"), async ({ params, body }) => {
  await requestItemFigures(params.project, body.items);
});
