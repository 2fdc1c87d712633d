import { screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it, vi } from "vitest";
import { newRepairStep, type RepairStep } from "@core/repair";
import type { Command } from "@core/project/commands";
import { useWorkspace } from "@ui/state/workspace-store";
import { useCurrentItem } from "@ui/state/current-item";
import { inWorkspace, RATE } from "../../../tests/components/current-item";
import { StepEditor } from "./step-editor";
import { AddRepair, StepList } from "./step-list";

const withSteps = (...steps: RepairStep[]): Command[] => [{ type: "addRepairs", item: "item-1", steps }];
const region = { start: RATE, end: 2 * RATE };
const gain = (id: string) => ({ ...newRepairStep("region-gain", id), regions: [region] });
const hum = (id: string) => newRepairStep("clipping", id);

afterEach(() => vi.restoreAllMocks());

describe("the list of repairs", () => {
  const rows = () => screen.getAllByRole("listitem");

  it("says what an item without repairs is, and what can be done", () => {
    inWorkspace(<StepList />);
    expect(screen.getByText(/No repairs: the recording is used as it came/)).toBeTruthy();
  });

  it("offers what is usually mended in the kind of project while nothing is", async () => {
    const { document } = inWorkspace(<StepList />, { template: "audiobook" });
    const user = userEvent.setup();
    await user.click(screen.getByLabelText("Add mouth noise"));
    expect(document().items[0]!.repairs.map(({ type }) => type)).toEqual(["mouth-noise"]);
    expect(screen.queryByTestId("usual-repairs")).toBeNull();
  });

  it("names each step in its order, with what it does and where", () => {
    inWorkspace(<StepList />, { prepare: withSteps(gain("a"), hum("b")) });
    expect(rows()).toHaveLength(2);
    expect(rows()[0]!.textContent).toMatch(/^1Region gain.*0:01/);
    expect(rows()[1]!.textContent).toMatch(/^2.*whole/i);
  });

  it("switches, moves and removes a step, by its own id", async () => {
    const { edits, document } = inWorkspace(<StepList />, { prepare: withSteps(gain("a"), hum("b")) });
    const user = userEvent.setup();
    await user.click(within(rows()[0]!).getByRole("checkbox"));
    await user.click(within(rows()[0]!).getByLabelText("Later"));
    await user.click(within(rows()[1]!).getByLabelText("Remove"));
    expect(edits.map(({ type }) => type)).toEqual(["switchRepair", "moveRepair", "removeRepair"]);
    expect(document().items[0]!.repairs.map(({ id }) => id)).toEqual(["b"]);
  });

  it("picks several by Ctrl and Shift, and switches or removes them in one edit", async () => {
    const { edits, document } = inWorkspace(<StepList />, { prepare: withSteps(gain("a"), hum("b"), gain("c")) });
    const user = userEvent.setup();
    const open = (row: number) => within(rows()[row]!).getAllByRole("button")[0]!;
    await user.click(open(0));
    await user.keyboard("{Shift>}");
    await user.click(open(1));
    await user.keyboard("{/Shift}");
    const bar = screen.getByRole("toolbar", { name: "2 repairs are selected" });
    await user.click(within(bar).getByRole("button", { name: "Off" }));
    expect(document().items[0]!.repairs.map(({ enabled }) => enabled)).toEqual([false, false, true]);
    await user.click(within(bar).getByRole("button", { name: "Remove" }));
    expect(document().items[0]!.repairs.map(({ id }) => id)).toEqual(["c"]);
    expect(edits.map(({ type }) => type)).toEqual(["switchRepairs", "removeRepairs"]);
    expect(screen.queryByRole("toolbar")).toBeNull();
  });

  it("cannot move the first step up nor the last one down", () => {
    inWorkspace(<StepList />, { prepare: withSteps(gain("a"), hum("b")) });
    expect(within(rows()[0]!).getByLabelText<HTMLButtonElement>("Earlier").disabled).toBe(true);
    expect(within(rows()[1]!).getByLabelText<HTMLButtonElement>("Later").disabled).toBe(true);
    expect(within(rows()[0]!).getByLabelText<HTMLButtonElement>("Later").disabled).toBe(false);
  });

  it("takes a step in hand and lets it go again", async () => {
    inWorkspace(<StepList />, { prepare: withSteps(gain("a")) });
    const user = userEvent.setup();
    await user.click(screen.getByRole("button", { name: /Region gain/ }));
    expect(useWorkspace.getState().step).toBe("a");
    await user.click(screen.getByRole("button", { name: /Region gain/ }));
    expect(useWorkspace.getState().step).toBeNull();
  });

  it("forgets the step in hand when it is removed", async () => {
    inWorkspace(<StepList />, { prepare: withSteps(gain("a")) });
    useWorkspace.setState({ step: "a" });
    await userEvent.setup().click(screen.getByLabelText("Remove"));
    expect(useWorkspace.getState().step).toBeNull();
  });
});

describe("adding a repair", () => {
  it("applies to what is selected: frames of the recording, and takes it in hand", async () => {
    const { document } = inWorkspace(<AddRepair />);
    useWorkspace.setState({ selection: { start: 1, end: 2.5, band: { low: 200, high: 900 } } });
    const user = userEvent.setup();
    await user.click(screen.getByRole("button", { name: /Add a repair/ }));
    expect(screen.getByText(/On what is selected/)).toBeTruthy();
    await user.click(await screen.findByRole("menuitem", { name: /^Region gain/ }));
    const [step] = document().items[0]!.repairs;
    expect(step).toMatchObject({
      type: "region-gain",
      regions: [{ start: RATE, end: 2.5 * RATE, lowHz: 200, highHz: 900 }],
    });
    expect(useWorkspace.getState().step).toBe(step!.id);
  });
  it("applies to the whole where nothing is selected", async () => {
    const { document } = inWorkspace(<AddRepair />);
    const user = userEvent.setup();
    await user.click(screen.getByRole("button", { name: /Add a repair/ }));
    await user.click(await screen.findByRole("menuitem", { name: /^Clipping/ }));
    expect(document().items[0]!.repairs[0]).toMatchObject({ type: "clipping", regions: [] });
  });
});

describe("the editor of a step", () => {
  function Editor() {
    const { facts, item } = useCurrentItem();
    return <StepEditor step={item!.repairs[0]!} facts={facts!} />;
  }

  it("has a field for each parameter of its repair", () => {
    inWorkspace(<Editor />, { prepare: withSteps(gain("a")) });
    const settings = screen.getByLabelText("Region gain settings");
    for (const label of ["Gain", "Fade time", "Fade position"])
      expect(within(settings).getAllByText(new RegExp(label)).length).toBeGreaterThan(0);
  });

  it("keeps one field by one edit that names it, and nothing where nothing changed", async () => {
    const { edits, document } = inWorkspace(<Editor />, { prepare: withSteps(gain("a")) });
    const field = screen.getByLabelText<HTMLInputElement>("Gain");
    const user = userEvent.setup();
    await user.clear(field);
    await user.type(field, "-6{Enter}");
    expect(edits).toHaveLength(1);
    expect(edits[0]).toMatchObject({ type: "setRepair", step: "a", changes: { gainDb: -6 } });
    expect(Object.keys((edits[0] as { changes: object }).changes)).toEqual(["gainDb"]);
    await user.clear(field);
    await user.type(field, "-6{Enter}");
    expect(edits).toHaveLength(1);
    expect(document().items[0]!.repairs[0]!["gainDb"]).toBe(-6);
  });

  it("is narrowed to the selection, widened by it, and put on the whole again", async () => {
    const { document } = inWorkspace(<Editor />, { prepare: withSteps(gain("a")) });
    useWorkspace.setState({ selection: { start: 3, end: 4 } });
    const user = userEvent.setup();
    const regions = () => document().items[0]!.repairs[0]!.regions;
    await user.click(screen.getByRole("button", { name: "The selection too" }));
    expect(regions()).toEqual([region, { start: 3 * RATE, end: 4 * RATE }]);
    await user.click(screen.getByRole("button", { name: "Only the selection" }));
    expect(regions()).toEqual([{ start: 3 * RATE, end: 4 * RATE }]);
    await user.click(screen.getByRole("button", { name: "The whole" }));
    expect(regions()).toEqual([]);
    expect(screen.getByRole<HTMLButtonElement>("button", { name: "The whole" }).disabled).toBe(true);
  });
});

describe("one control over a voice", () => {
  const editor = (settings: object) => {
    function InHand() {
      const { item, facts } = useCurrentItem();
      const step = item!.repairs.find(({ id }) => id === "v");
      return step && facts ? <StepEditor step={step} facts={facts} /> : null;
    }
    const step = { ...newRepairStep("voice-clean-up", "v"), regions: [region], ...settings };
    return inWorkspace(<InHand />, { prepare: withSteps(gain("a"), step, gain("z")) });
  };
  const parts = () => within(screen.getByTestId("voice-parts")).getAllByRole("listitem");

  it("says what it does now, part by part", () => {
    editor({ amount: 50 });
    expect(parts().map(({ textContent }) => textContent)).toEqual([
      expect.stringMatching(/^Clicks/),
      expect.stringMatching(/^Mouth noise/),
      expect.stringMatching(/^Speech denoise16/),
    ]);
  });

  it("opens its parts in its place, where it applied and as it was switched", async () => {
    const { document } = editor({ amount: 50, room: true, enabled: false });
    await userEvent.setup().click(screen.getByRole("button", { name: "Open its parts" }));
    const { repairs } = document().items[0]!;
    expect(repairs.map(({ type }) => type)).toEqual([
      "region-gain",
      "clicks",
      "mouth-noise",
      "speech-denoise",
      "reverberation",
      "region-gain",
    ]);
    expect(repairs.slice(1, 5).every(({ enabled, regions }) => !enabled && regions[0]!.start === region.start)).toBe(
      true,
    );
    expect(new Set(repairs.map(({ id }) => id)).size).toBe(6);
    expect(useWorkspace.getState().step).toBe(repairs[1]!.id);
  });

  it("has nothing to open at the amount of nothing", () => {
    editor({ amount: 0 });
    expect(screen.getByRole<HTMLButtonElement>("button", { name: "Open its parts" }).disabled).toBe(true);
    expect(parts()[0]!.textContent).toMatch(/^Nothing/);
  });
});
