import { testWebhook as endpoint } from "@core/api/webhooks";
import { inStudio } from "@server/people/access";
import { testWebhook } from "@server/webhooks/webhooks";
import { route } from "../../../respond";

export const POST = route(endpoint, inStudio("owner", "manage"), ({ params }) => testWebhook(params.webhook));
