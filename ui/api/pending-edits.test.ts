import { describe, expect, it } from "vitest";
import { enqueue, withAllEdits } from "./pending-edits";

const later = () => new Promise<void>((resolve) => setTimeout(resolve, 5));

describe("edits on their way", () => {
  it("are in every state that is fetched, also those made while it was on its way", async () => {
    let kept = 0;
    const edit = (project: string) =>
      enqueue(project, async () => {
        await later();
        kept++;
      });
    void edit("one");
    let fetches = 0;
    const state = await withAllEdits("one", async () => {
      const seen = kept;
      // The first answer is on its way when something else is edited.
      if (++fetches === 1) void edit("one");
      await later();
      return seen;
    });
    expect(state).toBe(2);
    expect(fetches).toBe(2);
  });
  it("of one project do not hold up another", async () => {
    void enqueue("slow", () => new Promise(() => undefined));
    expect(await withAllEdits("other", async () => "at once")).toBe("at once");
  });
});
