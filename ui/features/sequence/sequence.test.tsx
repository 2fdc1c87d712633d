import { screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import { useWorkspace } from "@ui/state/workspace-store";
import { inWorkspace, RATE } from "../../../tests/components/current-item";
import { SequenceStage } from "./sequence-stage";

const rows = () => screen.getAllByRole("row").slice(1);

describe("the running order", () => {
  it("tells where each item starts, after what is cut out of those before it", () => {
    inWorkspace(<SequenceStage />, {
      items: 3,
      prepare: [
        { type: "setPieces", item: "item-1", clips: [{ kind: "recording", start: 0, end: 2 * RATE }], what: "cut out" },
      ],
    });
    expect(rows().map((row) => row.textContent?.match(/\d:\d\d\.\d/)?.[0])).toEqual(["0:00.0", "0:02.0", "0:08.0"]);
    expect(screen.getByText(/3 items, 0:14\.0 in all/)).toBeTruthy();
  });
  it("moves, removes and renames items", async () => {
    const { document } = inWorkspace(<SequenceStage />, { items: 3 });
    const user = userEvent.setup();
    await user.click(within(rows()[0]!).getByLabelText("Later"));
    expect(document().items.map(({ id }) => id)).toEqual(["item-2", "item-1", "item-3"]);
    await user.click(within(rows()[2]!).getByLabelText("Take out of the running order"));
    expect(document().items.map(({ id }) => id)).toEqual(["item-2", "item-1"]);
    await user.dblClick(within(rows()[0]!).getByText("Chapter 2"));
    await user.clear(screen.getByLabelText("Name of the item"));
    await user.type(screen.getByLabelText("Name of the item"), "  The Ferry {Enter}");
    expect(document().items[0]!.name).toBe("The Ferry");
  });
  it("keeps a name with Escape and an empty one", async () => {
    const { edits } = inWorkspace(<SequenceStage />, { items: 2 });
    const user = userEvent.setup();
    await user.dblClick(screen.getByText("Chapter 1"));
    await user.type(screen.getByLabelText("Name of the item"), "other{Escape}");
    await user.dblClick(screen.getByText("Chapter 1"));
    await user.clear(screen.getByLabelText("Name of the item"));
    await user.keyboard("{Enter}");
    expect(edits).toEqual([]);
    expect(screen.getByText("Chapter 1")).toBeTruthy();
  });
  it("takes an item in hand by its name", async () => {
    inWorkspace(<SequenceStage />, { items: 2 });
    await userEvent.setup().click(screen.getByText("Chapter 2"));
    expect(useWorkspace.getState().item).toBe("item-2");
  });
  it("says what an empty order is", () => {
    inWorkspace(<SequenceStage />, { prepare: [{ type: "removeItem", item: "item-1" }] });
    expect(screen.getByText(/The running order is empty/)).toBeTruthy();
  });
});
