import { deliveryOf, documentsOf } from "@server/delivery/documents";
import { inProject } from "@server/people/access";
import { route, uuidParam } from "../../../respond";

/** Names of the documents that the finished masters give. */
export const GET = route<{ project: string }>(inProject("listen", "read"), async (_request, params) =>
  documentsOf(await deliveryOf(uuidParam.parse(params.project))).map(({ name, mediaType }) => ({ name, mediaType })),
);
