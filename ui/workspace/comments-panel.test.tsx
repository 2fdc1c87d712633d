import { act, screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import type { Comment } from "@core/project/comment";
import { useCurrentItem } from "@ui/state/current-item";
import { answering } from "../../tests/components/answers";
import { inWorkspace, PROJECT, RATE } from "../../tests/components/current-item";
import { useWorkspace } from "../state/workspace-store";
import { RemarkFlags } from "../timeline/remark-flags";
import { CommentsPanel } from "./comments-panel";

const comment = (id: string, words: string, more: Partial<Comment> = {}): Comment => ({
  ...{ id, words, item_id: "item-1", start: RATE, end: null, thread: null, name: "Marl", own: false },
  ...{ created_at: "2026-01-01T12:00:00Z", resolved_at: null, resolved_by: null },
  ...more,
});

function Flags() {
  const { facts } = useCurrentItem();
  return facts && <RemarkFlags facts={facts} />;
}

function opened(comments: Comment[], items = 1) {
  const at = `projects/${PROJECT}/comments`;
  const asked = answering({
    [`GET ${at}`]: comments,
    [`POST ${at}`]: comment("new", "x"),
    [`GET projects/${PROJECT}/reviews`]: [],
  });
  inWorkspace(
    <>
      <CommentsPanel />
      <Flags />
    </>,
    { items },
  );
  act(() => useWorkspace.setState({ dialog: "comments", cursor: 2 }));
  return () => asked.filter(({ method }) => method !== "GET");
}
const press = (name: string | RegExp) => userEvent.setup().click(screen.getByRole("button", { name }));

describe("comments on the item in hand", () => {
  it("stand in the order of their places, with answers; those of other items do not", async () => {
    opened([
      comment("c1", "Later"),
      comment("c2", "On all of it", { start: null }),
      comment("c3", "So it is", { thread: "c1", name: "Wen" }),
      comment("c4", "Elsewhere", { item_id: "item-9" }),
    ]);
    const threads = await within(await screen.findByTestId("comments")).findAllByRole("listitem");
    expect(threads.map((one) => one.textContent)).toEqual([
      expect.stringMatching(/^the whole item.*On all of it/),
      expect.stringMatching(/0:01.*Later.*Wen.*So it is/),
    ]);
    expect(screen.queryByText("Elsewhere")).toBeNull();
    expect(screen.getByRole("button", { name: /^Comment of Marl at .*: Later$/ })).toBeTruthy();
  });

  it("are put at the playhead, on the selection, or on the whole item", async () => {
    const sent = opened([]);
    const user = userEvent.setup();
    expect(await screen.findByText("Nothing is open here.")).toBeTruthy();
    expect(screen.getByRole<HTMLButtonElement>("button", { name: "Comment" }).disabled).toBe(true);
    const write = async (words: string) => {
      await user.type(screen.getByLabelText("New comment"), words);
      await press("Comment");
    };
    await write("At two seconds");
    expect(sent().at(-1)).toMatchObject({
      path: `projects/${PROJECT}/comments`,
      body: { item: "item-1", start: 2 * RATE, end: null, words: "At two seconds", thread: null },
    });
    act(() => useWorkspace.setState({ selection: { start: 1, end: 3 } }));
    await write("All of this");
    expect(sent().at(-1)!.body).toMatchObject({ start: RATE, end: 3 * RATE });
    await user.click(screen.getByRole("radio", { name: "on the whole item" }));
    await write("As a whole");
    expect(sent().at(-1)!.body).toMatchObject({ start: null, end: null });
  });

  it("are answered, resolved, and removed where they are one's own", async () => {
    const sent = opened([comment("c1", "Is it wanted?", { own: true })]);
    const user = userEvent.setup();
    await screen.findByText("Is it wanted?");
    await press("Answer");
    await user.type(screen.getByLabelText("Answer to Marl"), "Yes{Control>}{Enter}{/Control}");
    expect(sent().at(-1)!.body).toMatchObject({ thread: "c1", words: "Yes" });
    await press("Resolve");
    expect(sent().at(-1)).toMatchObject({ method: "PATCH", body: { resolved: true } });
    await press("Remove");
    expect(sent().at(-1)).toMatchObject({ method: "DELETE" });
  });

  it("stay where somebody else has answered; what is open elsewhere is a press away", async () => {
    opened(
      [
        comment("c1", "Mine", { own: true }),
        comment("c2", "Theirs", { thread: "c1", name: "Wen" }),
        comment("c3", "There", { item_id: "item-2" }),
        comment("c4", "Seen to", { item_id: "item-2", resolved_at: "2026-01-02T12:00:00Z" }),
      ],
      2,
    );
    await screen.findByText("Theirs");
    expect(screen.queryByRole("button", { name: "Remove" })).toBeNull();
    const elsewhere = within(screen.getByRole("region", { name: "Open elsewhere" }));
    expect(elsewhere.getAllByRole("button").map((one) => one.textContent)).toEqual(["Chapter 21"]);
    await userEvent.setup().click(elsewhere.getByRole("button"));
    expect(useWorkspace.getState().item).toBe("item-2");
  });

  it("are out of the way once they are resolved, and found again", async () => {
    opened([comment("c1", "Old", { resolved_at: "2026-01-02T12:00:00Z", resolved_by: "Wen" })]);
    expect(await screen.findByText("Nothing is open here.")).toBeTruthy();
    expect(screen.queryByRole("button", { name: /^Comment of/ })).toBeNull();
    await userEvent.setup().click(await screen.findByRole("checkbox", { name: "Resolved as well (1)" }));
    expect(screen.getByText("resolved by Wen")).toBeTruthy();
    expect(screen.getByRole("button", { name: "Open again" })).toBeTruthy();
  });
});
