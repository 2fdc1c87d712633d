/** Migrations, what is told to other processes, and what the database's troubles are called. */
import { readdir } from "node:fs/promises";
import { beforeAll, describe, expect, it, vi } from "vitest";
import type { ServerEvent } from "@core/project/views";
import { config } from "../config";
import { databaseTrouble, migrate, pool, row, rows, transaction } from "./database";
import { ProgressPublisher, publish, subscribe } from "./notifications";

beforeAll(migrate);

describe("migrations", () => {
  const names = async () =>
    (await rows<{ name: string }>("select name from migration order by name")).map(({ name }) => name);

  it("are all applied, in their order, once, though many processes begin at a time", async () => {
    const files = (await readdir(config.migrationsFolder)).filter((name) => name.endsWith(".sql")).sort();
    await Promise.all(Array.from({ length: 6 }, migrate));
    expect(await names()).toEqual(files);
  });
  it("are numbered without a gap", async () => {
    const numbers = (await names()).map((name) => Number(name.slice(0, 3)));
    expect(numbers).toEqual(numbers.map((_, index) => index + 1));
  });
  it("leave the database as it was where one fails", async () => {
    const before = await names();
    await rows("delete from migration where name = $1", [before.at(-1)]);
    await expect(migrate()).rejects.toThrow(/exist/);
    expect(await names()).toEqual(before.slice(0, -1));
    await rows("insert into migration (name) values ($1)", [before.at(-1)]);
  });
});

describe("a transaction", () => {
  it("is kept whole or not at all", async () => {
    await rows("create table if not exists tried (n int)");
    await expect(
      transaction(async (client) => {
        await client.query("insert into tried values (1)");
        throw new Error("no");
      }),
    ).rejects.toThrow("no");
    expect(await row<{ n: number }>("select count(*)::int as n from tried")).toEqual({ n: 0 });
    await transaction((client) => client.query("insert into tried values (1)"));
    expect(await row<{ n: number }>("select count(*)::int as n from tried")).toEqual({ n: 1 });
  });
  it("gives its connection back, also where it fails", async () => {
    const before = pool().totalCount - pool().idleCount;
    await Promise.allSettled(Array.from({ length: 40 }, () => transaction(() => Promise.reject(new Error("no")))));
    expect(pool().totalCount - pool().idleCount).toBe(before);
  });
});

describe("what happens", () => {
  const event = (project: string): ServerEvent => ({ type: "project", project }) as unknown as ServerEvent;

  it("is told to all that listen, and to none that no longer do", async () => {
    const [one, two] = [vi.fn(), vi.fn()];
    const ends = [subscribe(one), subscribe(two)];
    await vi.waitFor(async () => {
      await publish(event("a"));
      expect(one).toHaveBeenCalledWith(event("a"));
    });
    expect(two).toHaveBeenCalledWith(event("a"));
    ends[1]!();
    two.mockClear();
    await publish(event("b"));
    await vi.waitFor(() => expect(one).toHaveBeenCalledWith(event("b")));
    expect(two).not.toHaveBeenCalled();
    ends[0]!();
  });

  it("is told only if its transaction is kept", async () => {
    const heard = vi.fn();
    const end = subscribe(heard);
    await vi.waitFor(async () => {
      await publish(event("ready"));
      expect(heard).toHaveBeenCalled();
    });
    await transaction(async (client) => {
      await publish(event("never"), client);
      throw new Error("no");
    }).catch(() => undefined);
    await publish(event("last"));
    await vi.waitFor(() => expect(heard).toHaveBeenCalledWith(event("last")));
    expect(heard).not.toHaveBeenCalledWith(event("never"));
    end();
  });

  it("goes on being told after the connection was cut", async () => {
    const heard = vi.fn();
    const end = subscribe(heard);
    await vi.waitFor(async () => {
      await publish(event("before"));
      expect(heard).toHaveBeenCalled();
    });
    await rows(
      "select pg_terminate_backend(pid) from pg_stat_activity where query ilike 'listen %' and datname = current_database()",
    );
    await vi.waitFor(
      async () => {
        await publish(event("after"));
        expect(heard).toHaveBeenCalledWith(event("after"));
      },
      { timeout: 15_000, interval: 200 },
    );
    end();
  });

  it("progress is told a few times a second, with the time left from its pace", () => {
    vi.useFakeTimers({ now: 0 });
    try {
      const told: { fraction: number; secondsLeft: number | null }[] = [];
      const publisher = new ProgressPublisher((progress) => told.push(progress));
      for (let step = 1; step <= 100; step++) {
        vi.advanceTimersByTime(100);
        publisher.tell("rendering", step / 200);
      }
      expect(told.length).toBeGreaterThan(20);
      expect(told.length).toBeLessThan(45);
      expect(told.at(-1)!.secondsLeft).toBeCloseTo(10, -1);
      publisher.tell("measuring", 0.001);
      vi.advanceTimersByTime(300);
      publisher.tell("measuring", 0.002);
      expect(told.at(-1)!.secondsLeft).toBeNull();
    } finally {
      vi.useRealTimers();
    }
  });
});

describe("troubles of the database", () => {
  it.each([
    [{ code: "57014" }, "Took too long"],
    [{ code: "ECONNREFUSED" }, "Database gone"],
    [{ message: "Connection terminated unexpectedly" }, "Database gone"],
    [{ code: "53100" }, "Disk full"],
  ])("%o is “%s”, with when to try again", (error, title) => {
    const trouble = databaseTrouble(Object.assign(new Error("message" in error ? error.message : "x"), error))!;
    expect(trouble.title).toBe(title);
    expect(trouble.seconds).toBeGreaterThan(0);
    expect(trouble.detail).toMatch(/\.$/);
  });
  it("other errors are none", () => {
    expect(databaseTrouble(new Error("the tide is out"))).toBeUndefined();
  });
});
