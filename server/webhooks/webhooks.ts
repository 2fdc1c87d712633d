/** Addresses that what happens in the studio is sent to. */
import { randomBytes } from "node:crypto";
import { TEST_EVENT, type Webhook, type WebhookDelivery, type WebhookEvent } from "@core/webhooks/webhook";
import { pool, row, rows, type Queryable } from "../db/database";
import { notFound, Problem } from "../problem";

const MOST_WEBHOOKS = 50;
const COLUMNS = `id, url, events, project_id, created_at, gone,
  (select count(*)::int from webhook_delivery d where d.webhook_id = webhook.id and d.state = 'waiting') as waiting`;

export const listWebhooks = (): Promise<Webhook[]> =>
  rows<Webhook>(`select ${COLUMNS} from webhook order by created_at`);

export interface NewWebhook {
  url: string;
  events: readonly WebhookEvent[];
  /** Only what happens in it. */
  project?: string | undefined;
}

/** @returns it with the secret that signs what is sent, told this once @throws Problem where there are too many */
export async function createWebhook({ url, events, project }: NewWebhook): Promise<Webhook & { secret: string }> {
  if ((await listWebhooks()).length >= MOST_WEBHOOKS)
    throw new Problem(409, "Too many webhooks", `${MOST_WEBHOOKS} are the most: remove some first.`);
  if (project !== undefined && !(await row("select 1 from project where id = $1", [project])))
    throw notFound("project");
  const secret = `whsec_${randomBytes(32).toString("base64")}`;
  const made = await row<Webhook>(
    `insert into webhook (url, secret, events, project_id) values ($1, $2, $3, $4) returning ${COLUMNS}`,
    [url, secret, events, project ?? null],
  );
  return { ...made!, secret };
}

export async function removeWebhook(id: string): Promise<void> {
  if (!(await row("delete from webhook where id = $1 returning 1", [id]))) throw notFound("webhook");
}

/** Text of what is sent. */
const bodyOf = (type: string, data: object): string =>
  JSON.stringify({ type, timestamp: new Date().toISOString(), data });

export async function testWebhook(id: string): Promise<void> {
  const added = await row(
    `insert into webhook_delivery (webhook_id, event, body) select id, $2, $3 from webhook where id = $1 returning 1`,
    [id, TEST_EVENT, bodyOf(TEST_EVENT, {})],
  );
  if (!added) throw notFound("webhook");
}

/**
 * Has it sent to everybody who wants to hear of it, in the transaction in which it happens: what is not kept is not
 * told, and what is kept is told for certain.
 */
export async function emitWebhookEvent(
  event: WebhookEvent,
  project: string,
  data: Record<string, unknown>,
  on: Queryable = pool(),
): Promise<void> {
  await rows(
    `insert into webhook_delivery (webhook_id, event, body)
     select id, $1, $2 from webhook where not gone and $1 = any(events) and (project_id is null or project_id = $3)`,
    [event, bodyOf(event, { project, ...data }), project],
    on,
  );
}

export const DELIVERY_PAGE = 50;

/** What was sent, newest first, a page at a time. @param before only those before this one */
export const deliveriesOf = (webhook: string, before: string | null): Promise<WebhookDelivery[]> =>
  rows<WebhookDelivery>(
    `select id, event, state, attempts, status, problem, created_at,
       case when state = 'waiting' then next_at end as next_at
     from webhook_delivery
     where webhook_id = $1 and ($2::uuid is null or number < (select number from webhook_delivery where id = $2))
     order by number desc limit ${DELIVERY_PAGE}`,
    [webhook, before],
  );
