import { fireEvent, screen } from "@testing-library/react";
import { beforeEach, describe, expect, it, vi } from "vitest";
import type { Breakpoint } from "@core/parameters/parameter";
import { newChainEntry } from "@core/processors";
import type { EqualiserBand } from "@core/processors/equaliser";
import { useCurrentItem } from "@ui/state/current-item";
import { useLanes } from "@ui/state/lane-settings";
import { useWorkspace } from "@ui/state/workspace-store";
import { inWorkspace } from "../../../tests/components/current-item";
import { bandLetter } from "./visualisers/band-list";
import { BreakpointPlot } from "./visualisers/breakpoint-plot";
import { EqualiserEditor } from "./visualisers/equaliser-editor";
import { useEntry } from "./visualisers/use-entry";

const box = new DOMRect(0, 0, 600, 260);
beforeEach(() => {
  vi.spyOn(Element.prototype, "getBoundingClientRect").mockReturnValue(box);
  Element.prototype.setPointerCapture = () => undefined;
  useLanes.setState(useLanes.getInitialState());
});

const BELL: EqualiserBand = { shape: "bell", hertz: 1000, gainDb: 3, q: 1, slope: "12", on: true, sides: "all" };

function Editor() {
  const { item } = useCurrentItem();
  return <EqualiserEditor inHand={useEntry(item!.chain[0]!, item!.id)} />;
}
function equaliser(bands: EqualiserBand[]) {
  const shown = inWorkspace(<Editor />, {
    prepare: [{ type: "addProcessor", item: "item-1", entry: { ...newChainEntry("equaliser", "eq"), bands } as never }],
  });
  const now = () => shown.document().items[0]!.chain[0]!["bands"] as unknown as EqualiserBand[];
  return { ...shown, now };
}
const handle = (index: number) => screen.getByLabelText(new RegExp(`^Band ${bandLetter(index)}:`));
const plot = () => screen.getByLabelText("Curve of the equaliser");

describe("the curve of an equaliser", () => {
  it("has a handle for each band, which says what it is", () => {
    equaliser([BELL, { ...BELL, shape: "high shelf", hertz: 8000, gainDb: -2 }]);
    expect(handle(0).getAttribute("aria-label")).toContain("bell at 1 kHz, +3.0 dB");
    expect(handle(1).getAttribute("aria-label")).toContain("high shelf at 8 kHz, −2.0 dB");
  });
  it.each([
    [{ key: "ArrowUp" }, { gainDb: 3.5 }],
    [{ key: "ArrowDown", shiftKey: true }, { gainDb: 2.9 }],
    [{ key: "ArrowRight" }, { hertz: 1059 }],
    [{ key: "ArrowLeft" }, { hertz: 944 }],
  ])("is moved by keys: %o", (key, expected) => {
    const { now } = equaliser([BELL]);
    fireEvent.keyDown(handle(0), key);
    expect(now()).toEqual([{ ...BELL, ...expected }]);
  });
  it("stops at the ends of its range", () => {
    const { now } = equaliser([{ ...BELL, gainDb: 24 }]);
    fireEvent.keyDown(handle(0), { key: "ArrowUp" });
    expect(now()[0]!.gainDb).toBe(24);
  });
  it("loses a band by Delete", () => {
    const { now } = equaliser([BELL, { ...BELL, hertz: 200 }]);
    fireEvent.keyDown(handle(0), { key: "Delete" });
    expect(now().map(({ hertz }) => hertz)).toEqual([200]);
  });
  it("gets a band where it is clicked twice", () => {
    const { now } = equaliser([]);
    fireEvent.doubleClick(plot(), { clientX: 300, clientY: 60 });
    const [band] = now();
    expect(band!.gainDb).toBeGreaterThan(0);
    expect(band!.hertz).toBeGreaterThan(300);
    expect(band!.hertz).toBeLessThan(3000);
  });
  it("has no more than 24 bands", () => {
    const { now, edits } = equaliser(Array.from({ length: 24 }, (_, n) => ({ ...BELL, hertz: 100 + n })));
    fireEvent.doubleClick(plot(), { clientX: 300, clientY: 60 });
    expect(now()).toHaveLength(24);
    expect(edits).toEqual([]);
  });
  it("is heard while a band is dragged, and kept when it is let go", () => {
    const { now, edits } = equaliser([BELL]);
    fireEvent.pointerDown(handle(0), { pointerId: 1 });
    fireEvent.pointerMove(plot(), { clientX: 450, clientY: 200 });
    expect(edits).toEqual([]);
    expect(useWorkspace.getState().pendingParameter).not.toBeNull();
    fireEvent.pointerUp(plot());
    expect(edits).toHaveLength(1);
    expect(now()[0]!.hertz).toBeGreaterThan(1000);
    expect(now()[0]!.gainDb).toBeLessThan(0);
  });
  it("keeps the gain of a band that has none when it is dragged", () => {
    const { now } = equaliser([{ ...BELL, shape: "high-pass", hertz: 40, gainDb: 0 } as EqualiserBand]);
    fireEvent.pointerDown(handle(0), { pointerId: 1 });
    fireEvent.pointerMove(plot(), { clientX: 200, clientY: 10 });
    fireEvent.pointerUp(plot());
    expect(now()[0]!.gainDb).toBe(0);
    expect(now()[0]!.hertz).not.toBe(40);
  });
  it("narrows and widens a band by the wheel", () => {
    const { now } = equaliser([BELL]);
    fireEvent.wheel(plot(), { deltaY: -100 });
    expect(now()[0]!.q).toBe(1.12);
    fireEvent.wheel(plot(), { deltaY: 100 });
    expect(now()[0]!.q).toBe(1);
  });
  it("becomes bands where it is drawn by hand, near what was drawn", () => {
    const { now, edits } = equaliser([]);
    fireEvent.click(screen.getByRole("button", { name: "draw" }));
    fireEvent.pointerDown(plot(), { clientX: 200, clientY: 130, pointerId: 1 });
    for (let x = 205; x <= 400; x += 5)
      fireEvent.pointerMove(plot(), { clientX: x, clientY: 130 - 60 * Math.sin((Math.PI * (x - 200)) / 200) });
    fireEvent.pointerUp(plot());
    expect(edits).toHaveLength(1);
    expect(now().length).toBeGreaterThan(0);
    expect(now().length).toBeLessThanOrEqual(10);
    expect(Math.max(...now().map(({ gainDb }) => gainDb))).toBeGreaterThan(2);
  });
});

/** A line between −10 and 10 over the item, 100 pixels a second. */
function line(points: Breakpoint[]) {
  const [onMove, onCommit] = [vi.fn(), vi.fn()];
  function Plot() {
    const { facts } = useCurrentItem();
    return (
      <BreakpointPlot
        label="Gain over time"
        line={points}
        ruler={{ toShare: (value) => (value + 10) / 20, fromShare: (share) => Math.round(20 * share - 10) }}
        resting={0}
        facts={facts!}
        momentaryLufs={facts!.curves.momentaryLufs.values}
        words="gain, dB"
        onMove={onMove}
        onCommit={onCommit}
      />
    );
  }
  inWorkspace(<Plot />);
  const committed = () => onCommit.mock.calls.at(-1)?.[0] as Breakpoint[];
  return { onMove, onCommit, committed };
}
const drawn = () => screen.getByLabelText("Gain over time");

describe("a line over time", () => {
  it("gets a point where it is clicked, in its order", () => {
    const { committed } = line([
      [1, 0],
      [5, 0],
    ]);
    fireEvent.pointerDown(drawn(), { clientX: 300, clientY: 65, pointerId: 1 });
    fireEvent.pointerUp(drawn());
    expect(committed()).toEqual([
      [1, 0],
      [3, 5],
      [5, 0],
    ]);
  });
  it("has its points moved, heard while they move, and none past its neighbour", () => {
    const { onMove, committed } = line([
      [1, 0],
      [2, 0],
      [4, 0],
    ]);
    fireEvent.pointerDown(drawn(), { clientX: 200, clientY: 130, pointerId: 1 });
    fireEvent.pointerMove(drawn(), { clientX: 590, clientY: 26 });
    expect(onMove).toHaveBeenCalledTimes(1);
    fireEvent.pointerUp(drawn());
    expect(committed()).toEqual([
      [1, 0],
      [3.999, 8],
      [4, 0],
    ]);
  });
  it("loses a point by Alt and a click, and nothing where there is none", () => {
    const { committed, onCommit } = line([
      [1, 0],
      [2, 4],
    ]);
    fireEvent.pointerDown(drawn(), { clientX: 202, clientY: 10, altKey: true, pointerId: 1 });
    expect(committed()).toEqual([[1, 0]]);
    expect(onCommit).toHaveBeenCalledTimes(1);
  });
  it("shows points while they can be told apart", () => {
    line(Array.from({ length: 130 }, (_, n): Breakpoint => [0.04 * n, 0]));
    expect(drawn().querySelectorAll("rect")).toHaveLength(0);
  });
  it("is drawn at what holds where there are no points", () => {
    line([]);
    const path = drawn().querySelectorAll("path")[1]!.getAttribute("d")!;
    expect(path).toBe("M0.0 75.0L1000.0 75.0");
  });
});
