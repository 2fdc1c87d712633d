import { createWebhook as createEndpoint, listWebhooks as listEndpoint } from "@core/api/webhooks";
import { inStudio } from "@server/people/access";
import { noteSubject } from "@server/people/principal";
import { createWebhook, listWebhooks } from "@server/webhooks/webhooks";
import { route } from "../respond";

export const GET = route(listEndpoint, inStudio("owner", "manage"), () => listWebhooks());

export const POST = route(
  createEndpoint,
  inStudio("owner", "manage"),
  ({ body }) => {
    noteSubject(new URL(body.url).host, body.project);
    return createWebhook(body);
  },
  "made a webhook",
);
