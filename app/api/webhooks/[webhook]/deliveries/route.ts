import { listDeliveries } from "@core/api/webhooks";
import { Page } from "@server/http/page";
import { inStudio } from "@server/people/access";
import { DELIVERY_PAGE, deliveriesOf } from "@server/webhooks/webhooks";
import { route } from "../../../respond";

export const GET = route(listDeliveries, inStudio("owner", "manage"), async ({ params, query }) => {
  const sent = await deliveriesOf(params.webhook, query.before ?? null);
  return new Page(sent, sent.length < DELIVERY_PAGE ? null : { before: sent.at(-1)!.id });
});
