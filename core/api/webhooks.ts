/** Webhooks of the studio. */
import * as z from "zod";
import { WEBHOOK_EVENTS, webhookDeliverySchema, webhookSchema, webhookUrlProblem } from "../webhooks/webhook";
import { endpoint } from "./endpoint";

const urlSchema = z
  .string()
  .trim()
  .max(2000)
  .superRefine((url, context) => {
    const problem = webhookUrlProblem(url);
    if (problem) context.addIssue({ code: "custom", message: problem });
  });

export const listWebhooks = endpoint("GET", "/api/webhooks", "Where what happens is sent.", {
  answer: z.array(webhookSchema),
});

export const createWebhook = endpoint(
  "POST",
  "/api/webhooks",
  "Has what happens sent to an address: the answer has the secret that signs it, told this once.",
  {
    body: z.strictObject({
      url: urlSchema,
      events: z.array(z.enum(WEBHOOK_EVENTS)).min(1, "at least one event is asked for").readonly(),
      project: z.uuid().optional().describe("Only of this project."),
    }),
    answer: webhookSchema.extend({ secret: z.string() }),
    hasSecret: true,
  },
);

export const removeWebhook = endpoint("DELETE", "/api/webhooks/{webhook}", "Sends nothing there any more.");

export const testWebhook = endpoint("POST", "/api/webhooks/{webhook}/test", "Sends a test, to see whether it arrives.");

export const listDeliveries = endpoint(
  "GET",
  "/api/webhooks/{webhook}/deliveries",
  "What was sent there in the last thirty days, newest first, and what became of it.",
  {
    query: z.strictObject({ before: z.uuid().optional().describe("Only those before this one.") }),
    answer: z.array(webhookDeliverySchema),
    paged: true,
  },
);
