import { act, fireEvent, screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { newChainEntry } from "@core/processors";
import { laneOwner } from "@core/project/chain-owners";
import { laneSchema } from "@core/programme/programme";
import { newFade } from "@core/programme/fade";
import { placementOf } from "@core/programme/placement";
import { useWorkspace } from "@ui/state/workspace-store";
import type { Command } from "@core/project/commands";
import { inWorkspace, OVERVIEW, place, RATE } from "../../../tests/components/current-item";
import { SequenceStage } from "./sequence-stage";

// Waveforms are fetched, and there is no server here.
beforeEach(() => void vi.stubGlobal("fetch", () => Promise.reject(new Error("no server"))));

const rows = () => within(screen.getByTestId("order-table")).getAllByRole("row").slice(1);
const cut = (item: string, seconds: number): Command => ({
  type: "setPieces",
  item,
  clips: [{ kind: "recording", start: 0, end: seconds * RATE }],
  what: "cut out",
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
    const { document, edits } = inWorkspace(<SequenceStage />, { items: 3 });
    const user = userEvent.setup();
    const field = screen.getByLabelText("Pause before, Chapter 2");
    await user.click(field);
    await user.keyboard("2,5{Enter}");
    expect(edits).toHaveLength(1);
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

describe("several items of the order", () => {
  const name = (chapter: number) => screen.getByRole("button", { name: `Chapter ${chapter}` });
  const bar = () => screen.queryByRole("toolbar", { name: /items are selected/ });
  const pickTwo = async () => {
    const user = userEvent.setup();
    await user.click(name(1));
    await user.keyboard("{Control>}");
    await user.click(name(3));
    await user.keyboard("{/Control}");
    return user;
  };

  it("are picked by Ctrl and Shift with a click, and left by a plain one", async () => {
    inWorkspace(<SequenceStage />, { items: 4 });
    const user = await pickTwo();
    expect(bar()!.textContent).toContain("2 items");
    expect(rows().map((row) => row.hasAttribute("data-picked"))).toEqual([true, false, true, false]);
    await user.keyboard("{Shift>}");
    await user.click(name(4));
    await user.keyboard("{/Shift}");
    expect(bar()!.textContent).toContain("2 items");
    await user.click(name(2));
    expect(bar()).toBeNull();
  });
  it("are selected by Ctrl and Shift with Enter as well; the one in hand stays", async () => {
    inWorkspace(<SequenceStage />, { items: 4 });
    act(() => name(1).focus());
    fireEvent.keyDown(name(1), { key: "Enter", ctrlKey: true });
    fireEvent.keyDown(name(3), { key: "Enter", shiftKey: true });
    expect(bar()!.textContent).toContain("3 items");
    expect(useWorkspace.getState().stage).not.toBe("inspect");
    fireEvent.keyDown(name(2), { key: "Enter", ctrlKey: true });
    expect(rows().map((row) => row.hasAttribute("data-picked"))).toEqual([true, false, true, false]);
  });
  it("get what is typed in one of them, all in one edit", async () => {
    const { document, edits } = inWorkspace(<SequenceStage />, { items: 4 });
    const user = await pickTwo();
    await user.click(within(bar()!).getByRole("button", { name: "−0.5 dB" }));
    expect(document().items.map((item) => placementOf(item).gainDb)).toEqual([-0.5, 0, -0.5, 0]);
    fireEvent.focus(screen.getByLabelText("Fade out, Chapter 3"));
    fireEvent.change(screen.getByLabelText("Fade out, Chapter 3"), { target: { value: "2" } });
    fireEvent.blur(screen.getByLabelText("Fade out, Chapter 3"));
    expect(document().items.map((item) => placementOf(item).fadeOut?.seconds)).toEqual([2, undefined, 2, undefined]);
    expect(edits).toHaveLength(2);
  });
  it("are coloured, get the chain of the one in hand, and are taken out", async () => {
    const { document } = inWorkspace(<SequenceStage />, {
      items: 4,
      prepare: [{ type: "addProcessor", item: "item-1", entry: newChainEntry("limiter", "l") }],
    });
    const user = await pickTwo();
    await user.click(within(bar()!).getByRole("button", { name: "Colour: teal" }));
    expect(document().items.map(({ colour }) => colour)).toEqual(["teal", undefined, "teal", undefined]);
    expect(screen.getAllByTitle("marked teal")).toHaveLength(2);
    await user.click(within(bar()!).getByRole("button", { name: "Chain of the one in hand" }));
    expect(document().items.map(({ chain }) => chain.length)).toEqual([1, 0, 1, 0]);
    await user.click(within(bar()!).getByRole("button", { name: "No colour" }));
    expect(document().items.some((item) => "colour" in item)).toBe(false);
    await user.click(within(bar()!).getByRole("button", { name: "Take out" }));
    expect(document().items.map(({ id }) => id)).toEqual(["item-2", "item-4"]);
    expect(bar()).toBeNull();
  });
});

describe("an order of 200 items", () => {
  it("has the rows in the page that are in sight, each with its number", async () => {
    vi.spyOn(HTMLElement.prototype, "clientHeight", "get").mockReturnValue(260);
    vi.spyOn(HTMLElement.prototype, "clientWidth", "get").mockReturnValue(800);
    inWorkspace(<SequenceStage />, { items: 200 });
    const table = screen.getByTestId("order-table");
    expect(table.getAttribute("aria-rowcount")).toBe("201");
    await screen.findByTestId("order-item-1");
    expect(table.querySelectorAll("[data-testid^=order-item]").length).toBeLessThan(40);
    expect(screen.getByText(/200 items · ends at 20:00\.0/)).toBeTruthy();
    expect(within(screen.getByTestId("order-item-10")).getByText("Chapter 10")).toBeTruthy();
    expect(screen.getByTestId("order-item-10").getAttribute("aria-rowindex")).toBe("11");
    vi.restoreAllMocks();
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

describe("references", () => {
  it("are laid beside the item in hand, moved, given to the whole and taken away", async () => {
    const { document } = inWorkspace(<SequenceStage />, { items: 2 });
    const user = userEvent.setup();
    expect(screen.getByText(/heard with Q at the same place/)).toBeTruthy();
    await user.click(screen.getByText("Reference"));
    const [reference] = document().programme.references;
    expect(reference).toMatchObject({ item: "item-1", atSeconds: 0 });
    await user.click(screen.getByLabelText("Begins, Low Door.wav"));
    await user.keyboard("-0.25{Enter}");
    expect(document().programme.references[0]!.atSeconds).toBe(-0.25);
    await user.selectOptions(screen.getByLabelText("What Low Door.wav belongs to"), "");
    expect(document().programme.references[0]).toMatchObject({ item: null, atSeconds: 0 });
    await user.click(screen.getByLabelText("Remove the reference Low Door.wav"));
    expect(document().programme.references).toEqual([]);
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

describe("several references", () => {
  const at = (id: string, item: string | null): Command => ({
    type: "setReference",
    reference: { id, source: "a".repeat(64), item, atSeconds: 0 },
  });
  it("are heard one at a place, which a person chooses", async () => {
    inWorkspace(<SequenceStage />, { items: 2, prepare: [at("r1", "item-1"), at("r2", "item-1"), at("r3", null)] });
    const checked = () => screen.getAllByRole("radio").map((radio) => (radio as HTMLInputElement).checked);
    expect(checked()).toEqual([true, false, false]);
    await userEvent.setup().click(screen.getAllByRole("radio")[1]!);
    expect(checked()).toEqual([false, true, false]);
    expect(useWorkspace.getState().monitorSource).toBe("reference");
  });
  it("say that their item is gone, instead of naming another", () => {
    inWorkspace(<SequenceStage />, {
      items: 2,
      prepare: [at("r1", "item-2"), { type: "removeItem", item: "item-2" }],
    });
    const owner = screen.getByLabelText<HTMLSelectElement>("What Low Door.wav belongs to");
    expect(owner.selectedOptions[0]!.text).toBe("an item that is gone");
  });
});

describe("a lane's chain", () => {
  const bed: Command = { type: "addLane", lane: laneSchema.parse({ id: "bed", name: "Bed" }) };
  it("gets processors, whose settings and places are the lane's, and loses them", async () => {
    const { document } = inWorkspace(<SequenceStage />, {
      items: 2,
      prepare: [
        bed,
        { type: "addProcessor", item: laneOwner("bed"), entry: newChainEntry("gain", "g") },
        { type: "addProcessor", item: laneOwner("bed"), entry: newChainEntry("filter", "f") },
      ],
    });
    const user = userEvent.setup();
    await user.click(screen.getByTitle("Processors that all of the lane goes through"));
    const panel = within(screen.getByLabelText("Chain of the lane Bed"));
    // What is heard apart, and made ahead, is so of items alone.
    expect(panel.queryByText("delta")).toBeNull();
    expect(panel.queryByTestId("cost")).toBeNull();
    await user.click(panel.getByText("Gain", { selector: "button span" }));
    await user.clear(panel.getByLabelText("Gain"));
    await user.type(panel.getByLabelText("Gain"), "-4{Enter}");
    const chain = () => document().programme.lanes[0]!.chain;
    expect(chain()[0]).toMatchObject({ type: "gain", gainDb: -4 });
    fireEvent.keyDown(panel.getByText("Gain", { selector: "button span" }), { key: "ArrowRight", altKey: true });
    expect(chain().map(({ type }) => type)).toEqual(["filter", "gain"]);
    await user.click(panel.getByLabelText(/Remove/));
    expect(chain().map(({ type }) => type)).toEqual(["filter"]);
  });
  it("is that of the programme's channels, and says where a line over an item has no place", async () => {
    const entries = ["width", "leveller"].map((type): Command => ({
      type: "addProcessor",
      item: laneOwner("bed"),
      entry: newChainEntry(type, type),
    }));
    inWorkspace(<SequenceStage />, { items: 1, channels: 2, prepare: [bed, ...entries] });
    const user = userEvent.setup();
    await user.click(screen.getByTitle("Processors that all of the lane goes through"));
    expect(screen.queryByText(/there are none here/)).toBeNull();
    await user.click(screen.getByText("Leveller", { selector: "button span" }));
    expect(screen.getByText(/Of a lane, draw the gain line on the map/)).toBeTruthy();
  });
  it("listens to the order, or to another lane, where a processor takes a key", async () => {
    const { document } = inWorkspace(<SequenceStage />, {
      items: 1,
      prepare: [bed, { type: "addProcessor", item: laneOwner("bed"), entry: newChainEntry("compressor", "c") }],
    });
    const user = userEvent.setup();
    await user.click(screen.getByTitle("Processors that all of the lane goes through"));
    await user.selectOptions(screen.getByLabelText("Key"), "the order");
    expect(document().programme.lanes[0]!.chain[0]!.key).toBe("order");
    await user.selectOptions(screen.getByLabelText("Key"), "its own sound");
    expect(document().programme.lanes[0]!.chain[0]!).not.toHaveProperty("key");
  });
  it("says what is heard where it is empty", async () => {
    inWorkspace(<SequenceStage />, { items: 1, prepare: [bed] });
    await userEvent.setup().click(screen.getByTitle("Processors that all of the lane goes through"));
    expect(screen.getByText(/The chain of the lane is empty/)).toBeTruthy();
  });
});

describe("gain over time", () => {
  const line = (of: "item" | "lane", id: string) => useWorkspace.setState({ gainLineOf: { kind: of, id } });
  it("of an item gets points by double clicks on the map, moved by keys and taken away", async () => {
    const { document } = inWorkspace(<SequenceStage />, { items: 2 });
    const user = userEvent.setup();
    await user.click(screen.getByLabelText("More for Chapter 2"));
    await user.click(screen.getByText("Draw its gain over time"));
    const map = screen.getByLabelText(/^Gain line of Chapter 2/);
    vi.spyOn(map, "getBoundingClientRect").mockReturnValue({ left: 0, top: 0, width: 1200, height: 100 } as DOMRect);
    // The programme is 12 s long: 900 pixels are 9 s, 3 s into the second item; a half down is 0 less 12 dB.
    fireEvent.doubleClick(map, { clientX: 900, clientY: 50 });
    const envelope = () => placementOf(document().items[1]!).envelope;
    expect(envelope()).toEqual([[3, -12]]);
    const point = () => screen.getByLabelText(/^Point 1 of the gain line/);
    fireEvent.keyDown(point(), { key: "ArrowUp" });
    fireEvent.keyDown(point(), { key: "ArrowLeft" });
    expect(envelope()).toEqual([[2.9, -11.5]]);
    fireEvent.keyDown(point(), { key: "Delete" });
    expect(envelope()).toEqual([]);
    await user.click(screen.getByLabelText("Put the gain line away"));
    expect(screen.queryByLabelText(/^Gain line of/)).toBeNull();
  });
  it("gets points at the playhead by a button, so that no mouse is needed", async () => {
    const { document } = inWorkspace(<SequenceStage />, { items: 2 });
    act(() => line("item", "item-2"));
    act(() => useWorkspace.setState({ programmeCursor: 8.5 }));
    screen.getByText("+ point").focus();
    await userEvent.setup().keyboard("{Enter}");
    // The second item begins at 6 s.
    expect(placementOf(document().items[1]!).envelope).toEqual([[2.5, 0]]);
  });
  it("of a lane is dragged, and kept once it is let go", () => {
    const lane = laneSchema.parse({ id: "bed", name: "Bed", envelope: [[6, 0]] });
    const { document, edits } = inWorkspace(<SequenceStage />, { items: 2, prepare: [{ type: "addLane", lane }] });
    act(() => line("lane", "bed"));
    const map = screen.getByLabelText(/^Gain line of the lane Bed/);
    vi.spyOn(map, "getBoundingClientRect").mockReturnValue({ left: 0, top: 0, width: 1200, height: 100 } as DOMRect);
    const point = screen.getByLabelText(/^Point 1 of the gain line/);
    point.setPointerCapture = () => undefined;
    fireEvent.pointerDown(point, { pointerId: 1, clientX: 600, clientY: 25 });
    fireEvent.pointerMove(point, { pointerId: 1, clientX: 300, clientY: 75 });
    expect(edits).toEqual([]);
    fireEvent.pointerUp(point, { pointerId: 1 });
    expect(document().programme.lanes[0]!.envelope).toEqual([[3, -24]]);
  });
});
