import { idSchema } from "@core/project/document";
import { deliveryOf } from "@server/delivery/documents";
import { attachment } from "@server/http/http-range";
import { zipName, documentsZip } from "@server/delivery/zip";
import { inProject } from "@server/people/access";
import { route, uuidParam } from "../../../respond";

/** All finished masters with their documents as one zip; `?deliverable=` for those of one. */
export const GET = route<{ project: string }>(
  inProject("listen", "read"),
  async (request, params) => {
    const delivery = await deliveryOf(uuidParam.parse(params.project));
    const only = idSchema.nullable().parse(new URL(request.url).searchParams.get("deliverable"));
    const masters = delivery.masters.filter(({ deliverable }) => only === null || deliverable.id === only);
    return new Response(await documentsZip({ ...delivery, masters }), {
      headers: { "Content-Type": "application/zip", "Content-Disposition": attachment(zipName(delivery)) },
    });
  },
  "downloaded a delivery",
);
