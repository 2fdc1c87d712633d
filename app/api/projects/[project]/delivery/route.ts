import { getDelivery } from "@core/api/masters";
import { deliveryOf } from "@server/delivery/documents";
import { documentsZip, zipName } from "@server/delivery/zip";
import { attachment } from "@server/http/http-range";
import { inProject } from "@server/people/access";
import { route } from "../../../respond";

export const GET = route(
  getDelivery,
  inProject("listen", "read"),
  async ({ params, query }) => {
    const delivery = await deliveryOf(params.project);
    const only = query.deliverable;
    const masters = delivery.masters.filter(({ deliverable }) => only === undefined || deliverable.id === only);
    return new Response(await documentsZip({ ...delivery, masters }), {
      headers: { "Content-Type": "application/zip", "Content-Disposition": attachment(zipName(delivery)) },
    });
  },
  "downloaded a delivery",
);
