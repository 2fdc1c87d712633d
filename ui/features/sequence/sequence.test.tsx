import { fireEvent, screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { newFade } from "@core/programme/fade";
import { placementOf } from "@core/programme/placement";
import { useWorkspace } from "@ui/state/workspace-store";
import type { Command } from "@core/project/commands";
import { inWorkspace, RATE } from "../../../tests/components/current-item";
import { SequenceStage } from "./sequence-stage";

// Waveforms are fetched, and there is no server here.
beforeEach(() => void vi.stubGlobal("fetch", () => Promise.reject(new Error("no server"))));

const OVERVIEW = { source: { overview_hash: "c".repeat(64) } };
const rows = () => within(screen.getByTestId("order-table")).getAllByRole("row").slice(1);
const cut = (item: string, seconds: number): Command => ({
  type: "setPieces",
  item,
  clips: [{ kind: "recording", start: 0, end: seconds * RATE }],
  what: "cut out",
});
const place = (
  item: string,
  changes: Extract<Command, { type: "placeItems" }>["items"][number]["changes"],
): Command => ({
  type: "placeItems",
  items: [{ item, changes }],
  what: "place",
});

describe("the order as a table", () => {
  it("tells where each item starts: after cuts, pauses and overlaps", () => {
    inWorkspace(<SequenceStage />, {
      items: 3,
      prepare: [cut("item-1", 2), place("item-2", { gapSeconds: 1.5 }), place("item-3", { gapSeconds: -0.5 })],
    });
    expect(rows().map((row) => row.textContent?.match(/\d:\d\d\.\d/)?.[0])).toEqual(["0:00.0", "0:03.5", "0:09.0"]);
    expect(screen.getByText(/3 items, some overlap · ends at 0:15\.0/)).toBeTruthy();
  });
  it("takes a pause that is typed, and goes on to the next row with Enter", async () => {
    const { document } = inWorkspace(<SequenceStage />, { items: 3 });
    const user = userEvent.setup();
    const field = screen.getByLabelText("Pause before, Chapter 2");
    await user.click(field);
    await user.keyboard("2,5{Enter}");
    expect(placementOf(document().items[1]!).gapSeconds).toBe(2.5);
    expect(window.document.activeElement).toBe(screen.getByLabelText("Pause before, Chapter 3"));
    await user.keyboard("−1.25{Enter}");
    expect(placementOf(document().items[2]!).gapSeconds).toBe(-1.25);
  });
  it("nudges by arrow keys, and takes a fade away where its field is emptied", async () => {
    const { document } = inWorkspace(<SequenceStage />, { items: 2 });
    const user = userEvent.setup();
    await user.click(screen.getByLabelText("Gain, Chapter 1"));
    await user.keyboard("{ArrowUp}{Shift>}{ArrowDown}{/Shift}");
    expect(placementOf(document().items[0]!).gainDb).toBeCloseTo(-0.9, 6);
    await user.click(screen.getByLabelText("Fade out, Chapter 1"));
    await user.keyboard("3{Tab}");
    expect(placementOf(document().items[0]!).fadeOut).toEqual(newFade(3));
    await user.clear(screen.getByLabelText("Fade out, Chapter 1"));
    await user.keyboard("{Tab}");
    expect(placementOf(document().items[0]!).fadeOut).toBeUndefined();
  });
  it("keeps what is no number, and what was given up with Escape", async () => {
    const { edits } = inWorkspace(<SequenceStage />, { items: 2 });
    const user = userEvent.setup();
    await user.click(screen.getByLabelText("Pause before, Chapter 2"));
    await user.keyboard("soon{Tab}");
    await user.click(screen.getByLabelText("Pause before, Chapter 2"));
    await user.keyboard("9{Escape}");
    expect(edits).toEqual([]);
  });
  it("moves items by keys, past what lies on lanes", () => {
    const { document } = inWorkspace(<SequenceStage />, {
      items: 4,
      prepare: [
        {
          type: "addLane",
          lane: { id: "bed", name: "Bed", gainDb: 0, mute: false, solo: false, chain: [], envelope: [], ducker: null },
        },
        place("item-2", { lane: "bed" }),
      ],
    });
    const order = () =>
      document()
        .items.filter((item) => placementOf(item).lane === null)
        .map(({ id }) => id);
    fireEvent.keyDown(rows()[0]!, { key: "ArrowDown", altKey: true });
    expect(order()).toEqual(["item-3", "item-1", "item-4"]);
    fireEvent.keyDown(rows()[1]!, { key: "ArrowDown", altKey: true });
    expect(order()).toEqual(["item-3", "item-4", "item-1"]);
    fireEvent.keyDown(rows()[2]!, { key: "ArrowDown", altKey: true });
    expect(order()).toEqual(["item-3", "item-4", "item-1"]);
  });
  it("renames items, and keeps a name with Escape and an empty one", async () => {
    const { document } = inWorkspace(<SequenceStage />, { items: 2 });
    const user = userEvent.setup();
    await user.dblClick(screen.getByText("Chapter 1"));
    await user.clear(screen.getByLabelText("Name of the item"));
    await user.keyboard("{Enter}");
    expect(document().items[0]!.name).toBe("Chapter 1");
    await user.dblClick(screen.getByText("Chapter 1"));
    await user.clear(screen.getByLabelText("Name of the item"));
    await user.type(screen.getByLabelText("Name of the item"), "  The Ferry {Enter}");
    expect(document().items[0]!.name).toBe("The Ferry");
  });
  it("takes items out, and the one that is touched in hand", async () => {
    const { document } = inWorkspace(<SequenceStage />, { items: 2 });
    const user = userEvent.setup();
    await user.click(screen.getByText("Chapter 2"));
    expect(useWorkspace.getState().item).toBe("item-2");
    await user.click(screen.getByLabelText("More for Chapter 1"));
    await user.click(screen.getByText("Take it out of the project"));
    expect(document().items.map(({ id }) => id)).toEqual(["item-2"]);
  });
  it("says what an empty order is, and what one item lacks", () => {
    const { unmount } = inWorkspace(<SequenceStage />, { prepare: [{ type: "removeItem", item: "item-1" }] });
    expect(screen.getByText(/The order is empty/)).toBeTruthy();
    unmount();
    inWorkspace(<SequenceStage />, { items: 1 });
    expect(screen.getByText(/With a second item there is a join/)).toBeTruthy();
  });
  it("shows levels with gain, and the step at a join", () => {
    inWorkspace(<SequenceStage />, {
      ...OVERVIEW,
      items: 2,
      prepare: [place("item-2", { gainDb: -9, gapSeconds: 1 })],
    });
    const numbers = (row: Element) =>
      row
        .textContent!.replaceAll("−", "-")
        .match(/-\d+\.\d/g)!
        .map(Number);
    const [first, second] = rows().map(numbers);
    expect(second![0]! - first![0]!).toBeCloseTo(-9, 1);
    expect(rows()[1]!.textContent).toContain("▲ −");
  });
});

describe("the join in hand", () => {
  const join = () => screen.getByTestId("join-step").closest("header")!;
  it("is the one before the item in hand, and tells a sound that stops dead", async () => {
    inWorkspace(<SequenceStage />, { ...OVERVIEW, items: 3, prepare: [place("item-3", { gapSeconds: 2 })] });
    await userEvent.setup().click(screen.getByText("Chapter 3"));
    expect(join().textContent).toContain("Join 2 → 3");
    expect(join().textContent).toContain("pause 2.00 s");
    expect(join().textContent).toContain("heard to stop");
  });
  it("gets fades of a shape and a length", async () => {
    const { document } = inWorkspace(<SequenceStage />, { ...OVERVIEW, items: 2 });
    const user = userEvent.setup();
    await user.selectOptions(screen.getByLabelText("Shape of the fade-out"), "exponential");
    expect(placementOf(document().items[0]!).fadeOut).toEqual(newFade(2, "exponential"));
    await user.clear(screen.getByLabelText("Length of the fade-out"));
    await user.type(screen.getByLabelText("Length of the fade-out"), "4.5{Enter}");
    expect(placementOf(document().items[0]!).fadeOut!.seconds).toBe(4.5);
    await user.selectOptions(screen.getByLabelText("Shape of the fade-out"), "none");
    expect(placementOf(document().items[0]!).fadeOut).toBeUndefined();
  });
});

describe("the whole", () => {
  it("gets silence at its ends, and all pauses at once", async () => {
    const { document } = inWorkspace(<SequenceStage />, { items: 3 });
    const user = userEvent.setup();
    await user.click(screen.getByText("Programme …"));
    await user.clear(screen.getByLabelText("Silence after the last item"));
    await user.type(screen.getByLabelText("Silence after the last item"), "2{Enter}");
    expect(document().programme.tailSeconds).toBe(2);
    await user.clear(screen.getByLabelText("Length of all pauses"));
    await user.type(screen.getByLabelText("Length of all pauses"), "1.5{Enter}");
    await user.click(screen.getByText("Set all"));
    expect(document().items.map((item) => placementOf(item).gapSeconds)).toEqual([0, 1.5, 1.5]);
    await user.click(screen.getByLabelText("Titles start on whole CD sectors"));
    expect(document().programme.cdRule).toBe(true);
  });
});

describe("lanes", () => {
  it("take items, yield to the order, and are removed once nothing lies on them", async () => {
    const { document } = inWorkspace(<SequenceStage />, { items: 2 });
    const user = userEvent.setup();
    await user.click(screen.getByText("Lane"));
    const [lane] = document().programme.lanes;
    expect(lane!.name).toBe("Bed");
    await user.click(screen.getByLabelText("More for Chapter 2"));
    await user.click(screen.getByText("Put it on the lane “Bed”"));
    expect(placementOf(document().items[1]!)).toMatchObject({ lane: lane!.id, atSeconds: 6 });
    expect((screen.getByLabelText("Remove the lane Bed") as HTMLButtonElement).disabled).toBe(true);
    await user.selectOptions(screen.getByLabelText("What Bed yields to"), "order");
    expect(document().programme.lanes[0]!.ducker).toMatchObject({ yieldsTo: ["order"] });
    await user.selectOptions(screen.getByLabelText("What Chapter 2 moves with"), "item-1");
    expect(placementOf(document().items[1]!).anchor).toBe("item-1");
    await user.click(screen.getByLabelText("More for Chapter 2"));
    await user.click(screen.getByText("Put it into the order"));
    await user.click(screen.getByLabelText("Remove the lane Bed"));
    expect(document().programme.lanes).toEqual([]);
  });
});
