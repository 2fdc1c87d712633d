/** Webhooks on the real PostgreSQL, sent to a real server of this machine. */
import { createHmac } from "node:crypto";
import { createServer, type IncomingHttpHeaders, type Server } from "node:http";
import type { AddressInfo } from "node:net";
import { afterAll, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { RETRY_SECONDS } from "@core/webhooks/webhook";
import { migrate, row, rows, transaction } from "../db/database";
import { createProject } from "../projects/projects";
import { sendDue } from "./sending";
import { createWebhook, deliveriesOf, emitWebhookEvent, listWebhooks, removeWebhook, testWebhook } from "./webhooks";

interface Received {
  headers: IncomingHttpHeaders;
  body: string;
}

let server: Server;
let url: string;
let received: Received[];
let answer: (count: number) => number;

beforeAll(async () => {
  await migrate();
  server = createServer((request, response) => {
    const chunks: Buffer[] = [];
    request.on("data", (chunk: Buffer) => chunks.push(chunk));
    request.on("end", () => {
      received.push({ headers: request.headers, body: Buffer.concat(chunks).toString() });
      const status = answer(received.length);
      response.writeHead(status, status === 302 ? { Location: "/elsewhere" } : {}).end("thanks");
    });
  });
  await new Promise<void>((resolve) => server.listen(0, "127.0.0.1", resolve));
  url = `http://127.0.0.1:${(server.address() as AddressInfo).port}/hook`;
});
afterAll(() => new Promise<void>((resolve) => void server.close(() => resolve())));
beforeEach(async () => {
  received = [];
  answer = () => 200;
  await rows("delete from webhook");
});

const listening = (project?: string) =>
  createWebhook({ url, events: ["master.verified", "recording.arrived"], project });
/** As if the time until the next try had passed. */
const later = () => rows("update webhook_delivery set next_at = now() where state = 'waiting'");

describe("what happens", () => {
  it("is sent once, signed so that whoever has the secret can prove it", async () => {
    const { id, secret } = await listening();
    const { id: project } = await createProject("Tide", "music", "test");
    await emitWebhookEvent("master.verified", project, { master: "m", pass: true });
    expect(await sendDue()).toBe(1);
    expect(await sendDue()).toBe(0);
    const [{ headers, body }] = received as [Received];
    expect(JSON.parse(body)).toMatchObject({ type: "master.verified", data: { project, master: "m", pass: true } });
    const key = Buffer.from(secret.slice("whsec_".length), "base64");
    const signed = `${String(headers["webhook-id"])}.${String(headers["webhook-timestamp"])}.${body}`;
    expect(headers["webhook-signature"]).toBe(`v1,${createHmac("sha256", key).update(signed).digest("base64")}`);
    expect(Math.abs(Number(headers["webhook-timestamp"]) - Date.now() / 1000)).toBeLessThan(60);
    const [sent] = await deliveriesOf(id, null);
    expect(sent).toMatchObject({
      id: headers["webhook-id"],
      state: "delivered",
      status: 200,
      attempts: 1,
      next_at: null,
    });
  });

  it("is sent to those alone who want to hear of it, of that project", async () => {
    const { id: project } = await createProject("Mine", "music", "test");
    const { id: other } = await createProject("Other", "music", "test");
    const { id } = await listening(project);
    await emitWebhookEvent("master.verified", other, {});
    await emitWebhookEvent("masters.submitted", project, {});
    await emitWebhookEvent("recording.arrived", project, {});
    expect(await sendDue()).toBe(1);
    expect((await deliveriesOf(id, null)).map(({ event }) => event)).toEqual(["recording.arrived"]);
  });

  it("is not told where it was undone", async () => {
    await listening();
    const { id: project } = await createProject("Undone", "music", "test");
    const undone = transaction(async (client) => {
      await emitWebhookEvent("recording.arrived", project, {}, client);
      throw new Error("undone");
    });
    await expect(undone).rejects.toThrow("undone");
    expect(await sendDue()).toBe(0);
  });
});

describe("an address that does not take it", () => {
  it("is tried again at longer and longer waits, with the same id, until it does", async () => {
    const { id } = await listening();
    answer = (count) => (count < 3 ? 500 : 204);
    await testWebhook(id);
    await sendDue();
    const [first] = await deliveriesOf(id, null);
    expect(first).toMatchObject({ state: "waiting", status: 500, problem: "It answered 500.", attempts: 1 });
    const wait = (Date.parse(first!.next_at!) - Date.now()) / 1000;
    expect(wait).toBeGreaterThan(RETRY_SECONDS[0] - 4);
    expect(wait).toBeLessThan(RETRY_SECONDS[0] + 1);
    expect(await sendDue()).toBe(0);
    await later();
    await sendDue();
    await later();
    await sendDue();
    expect(new Set(received.map(({ headers }) => headers["webhook-id"])).size).toBe(1);
    expect((await deliveriesOf(id, null))[0]).toMatchObject({
      state: "delivered",
      status: 204,
      attempts: 3,
      problem: null,
    });
  });

  it("is given up in the end, and a redirect is not followed", async () => {
    const { id } = await listening();
    answer = () => 302;
    await testWebhook(id);
    for (let tries = 0; tries <= RETRY_SECONDS.length; tries++) {
      await sendDue();
      await later();
    }
    expect(await sendDue()).toBe(0);
    expect(received).toHaveLength(RETRY_SECONDS.length + 1);
    expect((await deliveriesOf(id, null))[0]).toMatchObject({ state: "failed", status: 302 });
  });

  it("that is gone hears nothing more", async () => {
    const { id } = await listening();
    const { id: project } = await createProject("Gone", "music", "test");
    answer = () => 410;
    await emitWebhookEvent("recording.arrived", project, {});
    await sendDue();
    await emitWebhookEvent("recording.arrived", project, {});
    expect(await sendDue()).toBe(0);
    expect((await listWebhooks()).find((one) => one.id === id)).toMatchObject({ gone: true, waiting: 0 });
  });

  it("where nobody listens is said to be out of reach", async () => {
    const { id } = await createWebhook({ url: "http://127.0.0.1:9/", events: ["recording.arrived"] });
    await testWebhook(id);
    await sendDue();
    expect((await deliveriesOf(id, null))[0]).toMatchObject({ status: null, problem: "It could not be reached." });
  });
});

describe("several workers", () => {
  it("send each of a hundred once", async () => {
    await listening();
    const { id: project } = await createProject("Busy", "music", "test");
    for (let i = 0; i < 100; i++) await emitWebhookEvent("recording.arrived", project, { i });
    await Promise.all([sendDue(), sendDue(), sendDue(), sendDue()]);
    const numbers = received.map(({ body }) => (JSON.parse(body) as { data: { i: number } }).data.i);
    expect(numbers.sort((a, b) => a - b)).toEqual(Array.from({ length: 100 }, (_, i) => i));
  });

  it("take up what one of them had in hand when it ended", async () => {
    const { id } = await listening();
    await testWebhook(id);
    await rows("update webhook_delivery set attempts = 1, next_at = now() - interval '1 second'"); // taken, and never noted
    expect(await sendDue()).toBe(1);
    expect((await deliveriesOf(id, null))[0]).toMatchObject({ state: "delivered", attempts: 2 });
  });
});

describe("a webhook", () => {
  it("shows its secret once, and is removed with what waits for it", async () => {
    const { id, secret } = await listening();
    expect(secret).toMatch(/^whsec_[\w+/]{43}=$/);
    expect(JSON.stringify(await listWebhooks())).not.toContain(secret);
    await testWebhook(id);
    await removeWebhook(id);
    await expect(removeWebhook(id)).rejects.toMatchObject({ status: 404 });
    await expect(testWebhook(id)).rejects.toMatchObject({ status: 404 });
    expect((await row<{ count: number }>("select count(*)::int from webhook_delivery"))!.count).toBe(0);
  });

  it("is told of page by page", async () => {
    const { id } = await listening();
    for (let i = 0; i < 60; i++) await testWebhook(id);
    const first = await deliveriesOf(id, null);
    const second = await deliveriesOf(id, first.at(-1)!.id);
    expect([first.length, second.length]).toEqual([50, 10]);
    expect(new Set([...first, ...second].map((one) => one.id)).size).toBe(60);
  });
});
