import { describe, expect, it } from "vitest";
import { ApiProblem } from "./api";
import { sendUntilAnswered, type PendingEdit } from "./outbox";

const edit: PendingEdit = {
  id: "e1",
  project: "p",
  page: "w",
  base: 7,
  change: { command: { type: "rename", name: "Tide" } },
};

/** A server that answers with these, one after the other. */
function sender(answers: (number | { head: number })[]) {
  const told: (string | null)[] = [];
  const pauses: number[] = [];
  let sent = 0;
  return {
    told,
    pauses,
    sent: () => sent,
    post: async () => {
      const answer = answers[Math.min(sent++, answers.length - 1)]!;
      if (typeof answer === "number") throw new ApiProblem(answer, "Failed", `answered ${answer}`);
      return answer;
    },
    pause: async (milliseconds: number) => void pauses.push(milliseconds),
    waiting: (why: string | null) => void told.push(why),
  };
}

describe("an edit on its way", () => {
  it("is sent until the server takes it, however often it is gone, busy or full", async () => {
    const server = sender([0, 503, 0, 507, 429, { head: 8 }]);
    expect(await sendUntilAnswered(edit, server)).toEqual({ head: 8 });
    expect(server.sent()).toBe(6);
    expect(server.told).toEqual(["answered 0", "answered 503", "answered 0", "answered 507", "answered 429", null]);
    expect(server.pauses).toEqual([400, 800, 1600, 3200, 6400]);
  });
  it.each([400, 404, 409, 413, 422])("is given up at once where it is refused with %d", async (status) => {
    const server = sender([status]);
    await expect(sendUntilAnswered(edit, server)).rejects.toThrow(`answered ${status}`);
    expect(server.sent()).toBe(1);
    expect(server.told).toEqual([null]);
  });
  it("is given up where the server fails at it again and again, and not before", async () => {
    await expect(sendUntilAnswered(edit, sender([500, 500, { head: 8 }]))).resolves.toEqual({ head: 8 });
    const failing = sender([500]);
    await expect(sendUntilAnswered(edit, failing)).rejects.toThrow("answered 500");
    expect(failing.sent()).toBe(6);
  });
  it("waits no longer than eight seconds between two tries", async () => {
    const server = sender([...Array<number>(12).fill(503), { head: 8 }]);
    await sendUntilAnswered(edit, server);
    expect(Math.max(...server.pauses)).toBe(8000);
  });
});
