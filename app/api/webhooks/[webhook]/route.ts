import { removeWebhook as endpoint } from "@core/api/webhooks";
import { inStudio } from "@server/people/access";
import { removeWebhook } from "@server/webhooks/webhooks";
import { route } from "../../respond";

export const DELETE = route(
  endpoint,
  inStudio("owner", "manage"),
  ({ params }) => removeWebhook(params.webhook),
  "removed a webhook",
);
