import { act, fireEvent, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { createRef } from "react";
import { beforeEach, describe, expect, it, vi } from "vitest";
import type { Command } from "@core/project/commands";
import { newRepairStep, type RepairStep } from "@core/repair";
import { useCurrentItem } from "@ui/state/current-item";
import { useWorkspace } from "@ui/state/workspace-store";
import { inWorkspace, RATE, SECONDS } from "../../tests/components/current-item";
import { aboveLine, BreakpointEditors } from "./breakpoint-editors";
import { MarkerFlags } from "./marker-flags";
import { RegionLabel } from "./region-label";
import { TimelineToolbar } from "./timeline-toolbar";

vi.mock("@ui/state/use-range-figures", () => ({ useRangeFigures: () => null }));

beforeEach(() => {
  vi.spyOn(HTMLElement.prototype, "getBoundingClientRect").mockReturnValue(new DOMRect(0, 0, 600, 100));
});

function Part({ name }: { name: "lines" | "flags" | "toolbar" | "label" }) {
  const { facts } = useCurrentItem();
  const surface = createRef<HTMLDivElement>();
  if (!facts) return null;
  return {
    lines: <BreakpointEditors facts={facts} />,
    flags: <MarkerFlags facts={facts} />,
    toolbar: <TimelineToolbar facts={facts} surface={surface} />,
    label: <RegionLabel facts={facts} />,
  }[name];
}

const step = (type: string, more: Partial<RepairStep> = {}): Command => ({
  type: "addRepairs",
  item: "item-1",
  steps: [{ ...newRepairStep(type, "s1"), ...more }],
});
function withStep(type: string, more: Partial<RepairStep> = {}) {
  const shown = inWorkspace(<Part name="lines" />, { prepare: [step(type, more)] });
  act(() => useWorkspace.setState({ stage: "repair", step: "s1" }));
  return { ...shown, repair: () => shown.document().items[0]!.repairs[0]! as RepairStep & { learned: unknown } };
}

describe("the gain envelope of a step", () => {
  const points = [
    { frame: RATE, gainDb: 0 },
    { frame: 3 * RATE, gainDb: -6 },
  ];
  it("is not drawn while another step is in hand", () => {
    withStep("gain-envelope", { learned: points });
    expect(screen.getByTestId("gain-line")).toBeTruthy();
    act(() => useWorkspace.setState({ step: null }));
    expect(screen.queryByTestId("gain-line")).toBeNull();
  });
  it("gets a point where it is clicked twice, in its order", () => {
    const { repair } = withStep("gain-envelope", { learned: points });
    fireEvent.doubleClick(screen.getByTestId("gain-line"), { clientX: 200, clientY: 0, altKey: true });
    const frames = (repair().learned as { frame: number }[]).map(({ frame }) => frame);
    expect(frames).toHaveLength(3);
    expect(frames).toEqual([...frames].sort((a, b) => a - b));
    expect(frames[1]! / RATE).toBeCloseTo(2, 1);
  });
  it.each([
    ["ArrowUp", { frame: 3 * RATE, gainDb: -5.5 }],
    ["ArrowDown", { frame: 3 * RATE, gainDb: -6.5 }],
  ])("moves a point by half a decibel: %s", (key, expected) => {
    const { repair } = withStep("gain-envelope", { learned: points });
    fireEvent.keyDown(screen.getByLabelText(/Point at 0:03/), { key });
    expect((repair().learned as unknown[])[1]).toEqual(expected);
  });
  it("keeps points in their order, however far one is moved", () => {
    const { repair } = withStep("gain-envelope", {
      learned: [
        { frame: 0, gainDb: 0 },
        { frame: 100, gainDb: -6 },
      ],
    });
    fireEvent.keyDown(screen.getByLabelText(/, 0\.0 dB/), { key: "ArrowRight" });
    const [first, second] = repair().learned as { frame: number }[];
    expect(first!.frame).toBe(99);
    expect(second!.frame).toBe(100);
  });
  it("loses a point by Delete, and leaves other keys to the workspace", () => {
    const { repair, edits } = withStep("gain-envelope", { learned: points });
    fireEvent.keyDown(screen.getByLabelText(/Point at 0:03/), { key: "x" });
    expect(edits).toEqual([]);
    fireEvent.keyDown(screen.getByLabelText(/Point at 0:03/), { key: "Delete" });
    expect(repair().learned).toEqual([points[0]]);
  });
});

describe("the line above which spikes are tamed", () => {
  const peaks = (values: number[]) =>
    ({
      curves: { samplePeakDbfs: { values: Float32Array.from(values) } },
      figures: { integratedLufs: -20 },
    }) as unknown as Parameters<typeof aboveLine>[0];
  it("tells places above it, the deepest cut, and how loud the rest may be then", () => {
    expect(aboveLine(peaks([-12, -3, -2, -12, -4, -12]), -6, -1)).toEqual({
      places: 2,
      cutDb: 4,
      roomDb: 5,
      lufs: -15,
    });
  });
  it("cuts nothing where nothing lies above it", () => {
    expect(aboveLine(peaks([-12, -9]), -6, -1)).toMatchObject({ places: 0, cutDb: 0, roomDb: 8 });
  });
  it("is moved by keys, half a decibel at a time, up to full scale", () => {
    const { repair } = withStep("spikes", { thresholdDbfs: -0.3 });
    const line = screen.getAllByRole("slider")[0]!;
    expect(line.getAttribute("aria-valuetext")).toMatch(/^−0\.3 dBFS, \d+ places? above it$/);
    fireEvent.keyDown(line, { key: "ArrowDown" });
    expect(repair().thresholdDbfs).toBe(-0.8);
    for (let press = 0; press < 5; press++) fireEvent.keyDown(line, { key: "ArrowUp" });
    expect(repair().thresholdDbfs).toBe(0);
  });
});

describe("flags of markers", () => {
  const set = (id: string, seconds: number, more = {}): Command => ({
    type: "addMarkers",
    item: "item-1",
    markers: [{ id, kind: "mark", name: "", start: seconds * RATE, ...more }],
  });
  it("carry a name or a kind, and lead to their place", async () => {
    inWorkspace(<Part name="flags" />, {
      prepare: [set("a", 1, { name: "the ferry bell" }), set("b", 2, { kind: "retake" })],
    });
    expect(screen.getAllByRole("button").map((flag) => flag.getAttribute("aria-label"))).toEqual([
      "Marker the ferry bell",
      "Marker retake",
    ]);
    await userEvent.setup().click(screen.getByLabelText("Marker retake"));
    expect(useWorkspace.getState().cursor).toBe(2);
  });
  it("open the list when they are clicked twice", () => {
    inWorkspace(<Part name="flags" />, { prepare: [set("a", 1)] });
    fireEvent.doubleClick(screen.getByLabelText("Marker mark"));
    expect(useWorkspace.getState().dialog).toBe("markers");
  });
  it("are those of the window alone", async () => {
    inWorkspace(<Part name="flags" />, { prepare: [set("a", 1), set("b", 5)] });
    expect(screen.getAllByRole("button")).toHaveLength(2);
    act(() => useWorkspace.setState({ view: { start: 4, end: SECONDS } }));
    await waitFor(() => expect(screen.getAllByRole("button")).toHaveLength(1));
  });
});

describe("the toolbar of the programme view", () => {
  it("chooses what a drag selects", async () => {
    inWorkspace(<Part name="toolbar" />);
    await userEvent.setup().click(screen.getByText("box"));
    expect(useWorkspace.getState().tool).toBe("box");
  });
  it("counts the markers, and opens their list", async () => {
    inWorkspace(<Part name="toolbar" />);
    await userEvent.setup().click(screen.getByRole("button", { name: /0 markers/ }));
    expect(useWorkspace.getState().dialog).toBe("markers");
  });
  it("offers to select one channel only where there are more", async () => {
    const { unmount } = inWorkspace(<Part name="toolbar" />);
    expect(screen.queryByText("one channel")).toBeNull();
    unmount();
    inWorkspace(<Part name="toolbar" />, { channels: 2 });
    await userEvent.setup().click(screen.getByText("one channel"));
    expect(useWorkspace.getState().oneChannel).toBe(true);
  });
});

describe("the label of a selection", () => {
  const words = () => screen.getByTestId("selection-figures").textContent;
  const level = (pattern: RegExp) => Number(pattern.exec(words())![1]!.replace("−", "-"));
  it("tells length and levels from the tables at once, exact where they are", () => {
    inWorkspace(<Part name="label" />);
    act(() => useWorkspace.setState({ selection: { start: 2, end: 4 } }));
    expect(words()).toContain("2.000 s");
    expect(words()).not.toContain("≈");
    expect(words()).toContain("measuring …");
    // Noise of −24 dBFS peak, here 12 dB louder: uniform, its RMS lies 4.8 dB below its peak.
    expect(level(/RMS (−[\d.]+)/)).toBeCloseTo(-16.8, 0);
    expect(level(/peak (−[\d.]+) dBFS/)).toBeCloseTo(-12, 0);
  });
  it("marks what is only about so, and tells no loudness of a short stretch before it is measured", () => {
    inWorkspace(<Part name="label" />);
    act(() => useWorkspace.setState({ selection: { start: 2.03, end: 2.52 } }));
    expect(words()).toMatch(/≈ RMS −[\d.]+ · ≈ peak −[\d.]+ dBFS/);
    expect(words()).not.toContain("LUFS");
    act(() => useWorkspace.setState({ selection: { start: 0, end: 5 } }));
    expect(words()).toMatch(/≈ −[\d.]+ LUFS/);
  });
  it("stands at each of several selections", () => {
    inWorkspace(<Part name="label" />);
    act(() => useWorkspace.setState({ selection: { start: 2, end: 3 }, otherSelections: [{ start: 0, end: 1 }] }));
    expect(screen.getAllByTestId("selection-other")).toHaveLength(1);
    expect(screen.getByTestId("selection").style.left).not.toBe(screen.getByTestId("selection-other").style.left);
  });
  it("is not there where nothing is selected", () => {
    inWorkspace(<Part name="label" />);
    expect(screen.queryByTestId("selection")).toBeNull();
  });
});
