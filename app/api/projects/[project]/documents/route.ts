import { listDocuments } from "@core/api/masters";
import { deliveryOf, documentsOf } from "@server/delivery/documents";
import { inProject } from "@server/people/access";
import { route } from "../../../respond";

export const GET = route(listDocuments, inProject("listen", "read"), async ({ params }) =>
  documentsOf(await deliveryOf(params.project)).map(({ name, mediaType }) => ({ name, mediaType })),
);
