import { screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, describe, expect, it } from "vitest";
import { useCurrentItem } from "@ui/state/current-item";
import { useClipboard, useCutSettings } from "@ui/state/edit-actions";
import { useWorkspace } from "@ui/state/workspace-store";
import { inWorkspace, RATE, SECONDS } from "../../../tests/components/current-item";
import { CutsView } from "./cuts-view";

function View() {
  const { facts } = useCurrentItem();
  return <CutsView facts={facts!} />;
}

const press = (name: string | RegExp) => userEvent.setup().click(screen.getByRole("button", { name }));
const select = (start: number, end: number) => useWorkspace.setState({ selection: { start, end } });

beforeEach(() => {
  useCutSettings.setState({ ...useCutSettings.getInitialState(), hear: false });
  useClipboard.setState(useClipboard.getInitialState());
});

describe("cuts and crossfades", () => {
  const shown = () => {
    const workspace = inWorkspace(<View />);
    const clips = () => workspace.document().items[0]!.clips ?? null;
    const lengths = () => clips()!.map(({ start, end }) => (end - start) / RATE);
    return { ...workspace, clips, lengths };
  };
  const disabled = (name: string) => screen.getByRole<HTMLButtonElement>("button", { name }).disabled;

  it("says how to begin, and offers nothing that needs a selection", () => {
    shown();
    expect(screen.getByText(/Drag in the programme view to select/)).toBeTruthy();
    expect(screen.getByText(/The whole recording is used/)).toBeTruthy();
    for (const name of ["Cut out", "Trim to the selection", "Copy", "Paste", "Move to the playhead"])
      expect(disabled(name)).toBe(true);
    expect(disabled("Trim the head")).toBe(false);
  });

  it("cuts out what is selected, and closes up", async () => {
    const { clips, lengths } = shown();
    select(1, 2);
    await press("Cut out");
    expect(lengths()).toEqual([1, SECONDS - 2]);
    expect(clips()![1]!.start).toBe(2 * RATE);
    expect(useWorkspace.getState().selection).toBeNull();
    expect(screen.getByTestId("cuts").textContent).toContain("1.00 s left out");
  });

  it("leaves silence of the same length where that is wanted", async () => {
    const { clips, lengths } = shown();
    select(1, 2);
    await userEvent.setup().selectOptions(screen.getByLabelText("What is left where something is cut out"), "silence");
    await press("Cut out");
    expect(lengths()).toEqual([1, 1, SECONDS - 2]);
    expect(clips()!.map(({ kind }) => kind)).toEqual(["recording", "silence", "recording"]);
  });

  it("keeps only what is selected", async () => {
    const { lengths } = shown();
    select(2, 4);
    await press("Trim to the selection");
    expect(lengths()).toEqual([2]);
    expect(screen.getByTestId("cuts").textContent).toContain("head, 2.00 s left out");
  });

  it("takes off head and tail at the playhead", async () => {
    const { lengths } = shown();
    useWorkspace.setState({ cursor: 1.5 });
    await press("Trim the head");
    expect(lengths()).toEqual([SECONDS - 1.5]);
    useWorkspace.setState({ cursor: 2 });
    await press("Trim the tail");
    expect(lengths()).toEqual([2]);
  });

  it("puts in elsewhere what was copied, and only then offers it", async () => {
    const { lengths } = shown();
    select(0, 1);
    await press("Copy");
    useWorkspace.setState({ selection: null, cursor: 3 });
    await press("Paste");
    expect(lengths().reduce((sum, length) => sum + length, 0)).toBeCloseTo(SECONDS + 1, 6);
    expect(lengths()).toEqual([3, 1, SECONDS - 3]);
  });

  it("moves what is selected to the playhead, and nothing gets longer or shorter", async () => {
    const { lengths, clips } = shown();
    useWorkspace.setState({ selection: { start: 0, end: 1 }, cursor: 4 });
    await press("Move to the playhead");
    expect(lengths().reduce((sum, length) => sum + length, 0)).toBeCloseTo(SECONDS, 6);
    expect(clips()![0]!.start).toBe(RATE);
  });

  it("puts in silence of the length that was chosen, at the playhead", async () => {
    const { clips } = shown();
    useWorkspace.setState({ cursor: 2 });
    const user = userEvent.setup();
    await user.selectOptions(screen.getByLabelText("Length of what is put in"), "2 s");
    await press("Insert silence");
    expect(clips()![1]).toMatchObject({ kind: "silence" });
    expect(clips()![1]!.end - clips()![1]!.start).toBe(2 * RATE);
  });

  it("opens a cut again: what was left out is there", async () => {
    const { lengths } = shown();
    select(1, 2);
    await press("Cut out");
    await press("Open");
    expect(lengths()).toEqual([SECONDS]);
    expect(screen.queryByText("1.00 s left out")).toBeNull();
  });

  it("moves an edge of a cut by 20 ms", async () => {
    const { clips } = shown();
    select(1, 2);
    await press("Cut out");
    await press(/left out/);
    const [longer] = screen.getAllByRole("button", { name: "+20 ms" });
    await userEvent.setup().click(longer!);
    expect(clips()![0]!.end).toBe(RATE + 0.02 * RATE);
  });
});
