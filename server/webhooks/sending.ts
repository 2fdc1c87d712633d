/** Sends what happened to whoever wants to hear of it: signed, tried again at longer and longer waits, and noted. */
import { createHmac } from "node:crypto";
import { lookup } from "node:dns/promises";
import { setTimeout as pause } from "node:timers/promises";
import { isLinkLocal, retryAfter } from "@core/webhooks/webhook";
import { row, rows } from "../db/database";
import { log } from "../log";

const TIMEOUT_MS = 10_000;
const AT_A_TIME = 8;
/** Lease of a delivery: after so long without an outcome another worker sends it. */
const LEASE_SECONDS = 60;
const GONE = 410;
const POLL_MS = 1000;
const RETENTION = "interval '30 days'";

interface Due {
  id: string;
  webhook_id: string;
  url: string;
  secret: string;
  body: string;
  attempts: number;
}

/** The signature of a body: HMAC-SHA256 over “id.timestamp.body” (Standard Webhooks 1.0). @param timestamp seconds */
export function signatureOf(secret: string, id: string, timestamp: number, body: string): string {
  const key = Buffer.from(secret.replace(/^whsec_/, ""), "base64");
  return `v1,${createHmac("sha256", key).update(`${id}.${timestamp}.${body}`).digest("base64")}`;
}

/** Takes some that are due, so that no other worker sends them meanwhile. */
const takeDue = (): Promise<Due[]> =>
  rows<Due>(
    `with due as (
       select id from webhook_delivery where state = 'waiting' and next_at <= now()
       order by next_at limit ${AT_A_TIME} for update skip locked)
     update webhook_delivery d set attempts = attempts + 1, next_at = now() + interval '${LEASE_SECONDS} seconds'
     from due, webhook where d.id = due.id and webhook.id = d.webhook_id
     returning d.id, d.webhook_id, url, secret, body, attempts`,
  );

/** Whether a name leads to an address that nothing is sent to, whatever it led to when it was given. */
async function leadsToItself(url: string): Promise<boolean> {
  const host = new URL(url).hostname.replace(/^\[|\]$/g, "");
  return (await lookup(host, { all: true })).some(({ address }) => isLinkLocal(address));
}

/** @returns what was answered, or why nothing was */
async function send({ id, url, secret, body }: Due): Promise<{ status: number | null; problem: string | null }> {
  const timestamp = Math.floor(Date.now() / 1000);
  try {
    if (await leadsToItself(url)) return { status: null, problem: "Its name leads to an address that is refused." };
    const answer = await fetch(url, {
      method: "POST",
      // An address that leads elsewhere was not the one that was agreed upon.
      redirect: "manual",
      signal: AbortSignal.timeout(TIMEOUT_MS),
      headers: {
        "Content-Type": "application/json",
        "User-Agent": "Resonum",
        "webhook-id": id,
        "webhook-timestamp": String(timestamp),
        "webhook-signature": signatureOf(secret, id, timestamp, body),
      },
      body,
    });
    await answer.body?.cancel();
    return { status: answer.status, problem: answer.ok ? null : `It answered ${answer.status}.` };
  } catch (error) {
    const late = (error as Error).name === "TimeoutError";
    return { status: null, problem: late ? `No answer in ${TIMEOUT_MS / 1000} s.` : "It could not be reached." };
  }
}

async function deliver(due: Due): Promise<void> {
  const { status, problem } = await send(due);
  const wait = status === GONE ? null : retryAfter(due.attempts);
  const state = problem === null ? "delivered" : wait === null ? "failed" : "waiting";
  await row(
    `update webhook_delivery set state = $2, status = $3, problem = $4, next_at = now() + make_interval(secs => $5)
     where id = $1`,
    [due.id, state, status, problem, wait ?? 0],
  );
  if (status !== GONE) return;
  await rows("update webhook set gone = true where id = $1", [due.webhook_id]);
  await rows(
    "update webhook_delivery set state = 'failed', problem = 'Its address is gone.' where webhook_id = $1 and state = 'waiting'",
    [due.webhook_id],
  );
}

/** Sends all that is due. @returns how many were tried */
export async function sendDue(): Promise<number> {
  let tried = 0;
  for (let due = await takeDue(); due.length > 0; due = await takeDue()) {
    await Promise.all(due.map(deliver));
    tried += due.length;
  }
  return tried;
}

/** Sends what becomes due, until stopped. */
export async function keepSending(signal: AbortSignal): Promise<void> {
  for (let polls = 0; !signal.aborted; polls++) {
    try {
      await sendDue();
      if (polls % 3600 === 0) await rows(`delete from webhook_delivery where created_at < now() - ${RETENTION}`);
    } catch (error) {
      log.warn({ error: (error as Error).message }, "webhooks were not sent");
    }
    await pause(POLL_MS, undefined, { signal }).catch(() => undefined);
  }
}
