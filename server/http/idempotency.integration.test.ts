/** Requests that are sent again: on the real PostgreSQL. */
import { randomUUID } from "node:crypto";
import { beforeAll, describe, expect, it } from "vitest";
import { migrate, rows } from "../db/database";
import { once } from "./idempotency";

beforeAll(migrate);

const done = (answer: string, counted: { times: number }) => async () => {
  counted.times++;
  return { status: 200, answer };
};

describe("a request with a key", () => {
  it("is done once, and answered again as it was", async () => {
    const counted = { times: 0 };
    const key = randomUUID();
    expect(await once("o", key, "d", done("first", counted))).toEqual({
      ...{ status: 200, answer: "first", isRepeated: false },
    });
    expect(await once("o", key, "d", done("second", counted))).toMatchObject({ answer: "first", isRepeated: true });
    expect(counted.times).toBe(1);
  });

  it("is refused where the key is that of another request, and is another's own", async () => {
    const counted = { times: 0 };
    const key = randomUUID();
    await once("o", key, "d", done("first", counted));
    await expect(once("o", key, "other", done("x", counted))).rejects.toMatchObject({ status: 422 });
    expect(await once("p", key, "other", done("theirs", counted))).toMatchObject({ answer: "theirs" });
  });

  it("waits for nobody: of twenty at the same time one is done and the others are told so", async () => {
    const counted = { times: 0 };
    const key = randomUUID();
    let finish = () => {};
    const slow = async () => {
      counted.times++;
      await new Promise<void>((resolve) => (finish = resolve));
      return { status: 200, answer: "slow" };
    };
    const all = Array.from({ length: 20 }, () => once("o", key, "d", slow));
    const settled = Promise.allSettled(all);
    await expect.poll(() => counted.times).toBe(1);
    await Promise.race(all.map((one) => one.catch(() => undefined)));
    finish();
    const outcomes = await settled;
    expect(counted.times).toBe(1);
    const refused = outcomes.filter((one) => one.status === "rejected");
    expect(refused.length).toBeGreaterThan(0);
    for (const { reason } of refused) expect(reason).toMatchObject({ status: 409, headers: { "Retry-After": "1" } });
  });

  it("may be sent again where it failed, or where the server was cut off long ago", async () => {
    const counted = { times: 0 };
    const key = randomUUID();
    await expect(once("o", key, "d", () => Promise.reject(new Error("disk")))).rejects.toThrow("disk");
    expect(await once("o", key, "d", done("now", counted))).toMatchObject({ answer: "now", isRepeated: false });
    const cut = randomUUID();
    await rows("insert into idempotency_record (owner, key, digest) values ('o', $1, 'd')", [cut]);
    await expect(once("o", cut, "d", done("x", counted))).rejects.toMatchObject({ status: 409 });
    await rows("update idempotency_record set created_at = now() - interval '11 minutes' where key = $1", [cut]);
    expect(await once("o", cut, "d", done("again", counted))).toMatchObject({ answer: "again" });
  });

  it("is forgotten after a day", async () => {
    const key = randomUUID();
    await once("o", key, "d", done("old", { times: 0 }));
    await rows("update idempotency_record set created_at = now() - interval '25 hours' where key = $1", [key]);
    expect(await once("o", key, "d", done("new", { times: 0 }))).toMatchObject({ answer: "new" });
  });
});
