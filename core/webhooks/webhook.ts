/**
 * Webhooks: what happens in a studio, sent to addresses that programs listen at. Signed as the open specification
 * “Standard Webhooks” has it: HMAC-SHA256 over “id.timestamp.body”, base64, in the header `webhook-signature`.
 */
import * as z from "zod";
import { instantSchema } from "../audio/instant";

export const WEBHOOK_EVENTS = [
  "recording.arrived",
  "recording.measured",
  "master.verified",
  "master.reviewed",
  "masters.submitted",
] as const;
export type WebhookEvent = (typeof WEBHOOK_EVENTS)[number];

export const WEBHOOK_EVENT_LABELS: Record<WebhookEvent, { name: string; help: string }> = {
  "recording.arrived": { name: "Arrived", help: "A recording is whole, and waits to be read." },
  "recording.measured": { name: "Measured", help: "A recording was read and measured, or cannot be read." },
  "master.verified": { name: "Verified", help: "A master was rendered and measured on the file itself." },
  "master.reviewed": { name: "Approved", help: "A master was approved in a review, or sent back." },
  "masters.submitted": { name: "Handed over", help: "A receiver took masters, or refused them." },
};

/** Sent when somebody asks for it, to see whether it arrives. */
export const TEST_EVENT = "test";

export const webhookSchema = z.object({
  id: z.string(),
  url: z.string(),
  events: z.array(z.enum(WEBHOOK_EVENTS)),
  project_id: z.string().nullable().describe("Null for all projects."),
  created_at: instantSchema,
  gone: z.boolean().describe("Its address answered 410: nothing is sent there any more."),
  waiting: z.number().int().describe("So many deliveries are still tried."),
});
export type Webhook = z.infer<typeof webhookSchema>;

export const webhookDeliverySchema = z.object({
  id: z.string(),
  event: z.string(),
  state: z.enum(["waiting", "delivered", "failed"]),
  attempts: z.number().int(),
  status: z.number().int().nullable().describe("What the address answered last; null where it did not answer."),
  problem: z.string().nullable(),
  created_at: instantSchema,
  next_at: instantSchema.nullable().describe("When it is tried again."),
});
export type WebhookDelivery = z.infer<typeof webhookDeliverySchema>;

/** Waits before the second try and those after it, seconds: for a day and a half in all. */
export const RETRY_SECONDS = [5, 30, 120, 600, 3600, 3 * 3600, 8 * 3600, 24 * 3600] as const;

/** Seconds until the next try; `null` after the last. @param attempts so many were made */
export const retryAfter = (attempts: number): number | null => RETRY_SECONDS[attempts - 1] ?? null;

const IPV4 = /^\d+\.\d+\.\d+\.\d+$/;
const PRIVATE_IPV4 = /^(10\.|192\.168\.|172\.(1[6-9]|2\d|3[01])\.|127\.)/;
const PRIVATE_NAME = /^(localhost|\[::1\]|\[f[cd][\da-f:]*\])$|\.(local|internal|lan)$/i;

const isPrivate = (host: string): boolean => (IPV4.test(host) ? PRIVATE_IPV4 : PRIVATE_NAME).test(host);

/** Whether an IP address is one of a machine about itself (link-local, unspecified), of nobody who listens. */
export const isLinkLocal = (address: string): boolean =>
  /^(::ffff:)?(169\.254\.|0\.)\d|^fe[89ab]|^::$|^::ffff:a9fe:/i.test(address);

/** Why nothing can be sent to an address; `null` where it can. */
export function webhookUrlProblem(text: string): string | null {
  const url = URL.parse(text);
  if (!url || !/^https?:$/.test(url.protocol)) return "an address that begins with “https://” is asked for";
  if (url.username || url.password) return "an address without name and password is asked for";
  if (isLinkLocal(url.hostname.replace(/^\[|\]$/g, ""))) return "this is an address of a machine about itself";
  if (url.protocol === "http:" && !isPrivate(url.hostname))
    return "outside of the studio's own network it has to be “https://”";
  return null;
}
