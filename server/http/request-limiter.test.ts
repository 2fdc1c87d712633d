import { describe, expect, it } from "vitest";
import { RequestLimiter } from "./request-limiter";
import { Problem } from "../problem";

describe("a gate", () => {
  it("lets a few through at a time, keeps some waiting, and sends the others away", async () => {
    const gate = new RequestLimiter(2, 3);
    let inside = 0;
    let most = 0;
    const visit = () =>
      gate.through(async () => {
        most = Math.max(most, ++inside);
        await new Promise((resolve) => setTimeout(resolve, 5));
        inside--;
        return "done";
      });
    const visits = await Promise.allSettled(Array.from({ length: 9 }, visit));
    expect(most).toBe(2);
    expect(visits.filter(({ status }) => status === "fulfilled")).toHaveLength(5);
    for (const visit of visits)
      if (visit.status === "rejected")
        expect(visit.reason).toMatchObject({ status: 503, headers: { "Retry-After": "3" } } satisfies Partial<Problem>);
    expect(await visit()).toBe("done");
  });
  it("stays open after work that fails", async () => {
    const gate = new RequestLimiter(1, 10);
    const failing = Array.from({ length: 5 }, () => gate.through(() => Promise.reject(new Error("no"))));
    for (const one of failing) await expect(one).rejects.toThrow("no");
    expect(await gate.through(async () => 1)).toBe(1);
  });
});
