import { act, screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, describe, expect, it } from "vitest";
import { newChainEntry } from "@core/processors";
import { newRepairStep } from "@core/repair";
import { useWorkspace } from "@ui/state/workspace-store";
import { inWorkspace } from "../../tests/components/current-item";
import { ComparePanel } from "./compare-panel";
import { ListenMenu } from "./listen-menu";

beforeEach(() => useWorkspace.setState(useWorkspace.getInitialState()));
const workspace = () => useWorkspace.getState();
const user = () => userEvent.setup();

function listening(options: Parameters<typeof inWorkspace>[1] = {}) {
  const shown = inWorkspace(<ListenMenu />, options);
  act(() => useWorkspace.setState({ dialog: "listen" }));
  return shown;
}

describe("listening", () => {
  it("goes to mid, side and one side, and says so where the menu is closed", async () => {
    listening({ channels: 2 });
    await user().click(screen.getByText("side"));
    expect(workspace().monitor.listenTo).toBe("side");
    act(() => useWorkspace.setState({ dialog: null }));
    expect(screen.getByRole("button", { name: /Listen/ }).textContent).toContain("· side");
  });
  it("is to some channels alone, until all are heard again", async () => {
    listening({ channels: 2 });
    await user().click(screen.getByLabelText("solo L"));
    await user().click(screen.getByLabelText("mute R"));
    expect(workspace().monitor).toMatchObject({ solo: [0], mute: [1] });
    await user().click(screen.getByLabelText("solo L"));
    expect(workspace().monitor.solo).toEqual([]);
    await user().click(screen.getByText("all again"));
    expect(workspace().monitor).toMatchObject({ solo: [], mute: [] });
  });
  it("of one channel has no channels to choose, and nothing to fold", () => {
    listening();
    expect(screen.queryByText("Channels")).toBeNull();
    expect(screen.queryByLabelText("How channels are folded")).toBeNull();
  });
  it("is for headphones when that is chosen; coefficients are asked for only of more than two channels", async () => {
    listening({ channels: 2 });
    await user().selectOptions(screen.getByLabelText("How channels are folded"), "binaural");
    expect(workspace().monitor.fold).toBe("binaural");
    expect(screen.queryByLabelText("Centre into the sides")).toBeNull();
  });
  it("of before and removed is about a step, a processor, or all of the chain", async () => {
    listening({
      prepare: [
        { type: "addRepairs", item: "item-1", steps: [newRepairStep("hum", "s1")] },
        { type: "addProcessor", item: "item-1", entry: newChainEntry("limiter", "e1") },
      ],
    });
    const choice = screen.getByLabelText("The step that before and removed are about");
    expect(
      within(choice)
        .getAllByRole("option")
        .map((option) => option.textContent),
    ).toEqual(["the whole chain", "repair: Hum", "1 Limiter"]);
    await user().selectOptions(choice, "e1");
    expect(workspace().step).toBe("e1");
    await user().selectOptions(choice, "");
    expect(workspace().step).toBeNull();
  });
  it("to a reference ends when there is none", async () => {
    listening();
    const choice = screen.getByLabelText("Reference");
    await user().selectOptions(choice, "a".repeat(64));
    expect(workspace().reference).toBe("a".repeat(64));
    act(() => useWorkspace.setState({ monitorSource: "reference" }));
    await user().selectOptions(choice, "");
    expect(workspace()).toMatchObject({ reference: null, monitorSource: "now" });
  });
  it("around a loop is as long as is chosen", async () => {
    listening();
    await user().selectOptions(screen.getByLabelText("Heard before a loop"), "0.5");
    await user().selectOptions(screen.getByLabelText("Heard after a loop"), "2");
    expect(workspace().rolls).toEqual({ before: 0.5, after: 2 });
  });
});

const slot = (label: string) => ({ label, url: "/api/blobs/x", repairs: [], clips: null, chain: [], lufs: -20 });

describe("comparing two", () => {
  function comparing(slots: [unknown, unknown] = [null, null]) {
    const shown = inWorkspace(<ComparePanel />, { items: 2 });
    act(() => useWorkspace.setState({ dialog: "compare", slots: slots as never }));
    return shown;
  }
  const button = (name: string) => screen.getByRole<HTMLButtonElement>("button", { name });

  it("offers nothing while both slots are empty", () => {
    comparing();
    expect(screen.getAllByText("empty")).toHaveLength(2);
    for (const name of ["Slot 1", "Slot 2", "Difference"]) expect(button(name).disabled).toBe(true);
    expect(button("Listen blind").disabled).toBe(true);
  });
  it("takes another item into a slot, as it came", async () => {
    comparing();
    await user().selectOptions(screen.getByLabelText("Item for slot 2"), "item-2");
    expect(workspace().slots[1]).toMatchObject({ label: "Chapter 2 · original", chain: [], repairs: [] });
    expect(button("Slot 2").disabled).toBe(false);
    expect(button("Difference").disabled).toBe(true);
  });
  it("hides which is which while it is blind, and keeps the score", async () => {
    comparing([slot("One"), slot("Two")]);
    await user().click(button("Listen blind"));
    expect(screen.queryByText("One")).toBeNull();
    expect(screen.getAllByText("kept, hidden while you listen blind")).toHaveLength(2);
    expect(screen.queryByRole("button", { name: "Difference" })).toBeNull();
    expect(workspace().levelMatched).toBe(true);
    expect(screen.getByTestId("blind-score").textContent).toBe("no answer yet · 0 of 0");
    for (let answer = 0; answer < 6; answer++) await user().click(button(answer % 2 === 0 ? "slot 1" : "slot 2"));
    const score = screen.getByTestId("blind-score").textContent;
    expect(score).toMatch(/^(right|wrong) · [0-6] of 6 · by guessing alone \d+ %$/);
    const { right } = workspace().blind!;
    expect(Number(/· (\d) of 6/.exec(score)![1])).toBe(right);
    await user().click(button("Show, and end"));
    expect(screen.getByText("One")).toBeTruthy();
  });
  it("ends a blind test when what is compared changes", async () => {
    comparing([slot("One"), slot("Two")]);
    await user().click(button("Listen blind"));
    await user().selectOptions(screen.getByLabelText("Item for slot 1"), "item-1");
    expect(workspace().blind).toBeNull();
  });
});
