import { beforeEach, describe, expect, it, vi } from "vitest";
import {
  FOLDED_METERS,
  keepSizes,
  panelHandles,
  restoreSizes,
  sizesOf,
  togglePanel,
  usePanelSizes,
} from "./panel-sizes";

/** A panel as the page has it: it takes the size that it is given, and counts as folded at its least. */
function panel(folded: number) {
  let size: number | string = NaN;
  return {
    handle: {
      isCollapsed: () => parseFloat(String(size)) === folded,
      resize: (next: number | string) => void (size = next),
      collapse: vi.fn(),
      expand: vi.fn(),
      getSize: () => ({ asPercentage: 0, inPixels: 0 }),
    },
    size: () => size,
  };
}

let timeline: ReturnType<typeof panel>;
let meters: ReturnType<typeof panel>;
beforeEach(() => {
  usePanelSizes.setState({ sizes: {} });
  [timeline, meters] = [panel(0), panel(FOLDED_METERS)];
  panelHandles.upper.current = timeline.handle;
  panelHandles.meters.current = meters.handle;
  panelHandles.lower.current = { ...timeline.handle, isCollapsed: () => timeline.size() === "100%" };
});

describe("the room of the workspace", () => {
  it("is divided by stage, as it was left there", () => {
    keepSizes("repair", { upper: 30 });
    keepSizes("repair", { meters: 300 });
    restoreSizes("repair");
    expect([timeline.size(), meters.size()]).toEqual(["30%", 300]);
    restoreSizes("inspect");
    expect([timeline.size(), meters.size()]).toEqual(["50%", 236]);
    expect(sizesOf("repair")).toEqual({ upper: 30, meters: 300 });
  });

  it("has panels that fold, and unfold to the size that they had", () => {
    keepSizes("inspect", { upper: 44, meters: 310 });
    restoreSizes("inspect");
    togglePanel("meters", "inspect");
    expect(sizesOf("inspect")).toEqual({ upper: 44, meters: FOLDED_METERS });
    togglePanel("lower", "inspect");
    expect(timeline.size()).toBe("100%");
    togglePanel("lower", "inspect");
    togglePanel("meters", "inspect");
    expect([timeline.size(), meters.size()]).toEqual(["44%", 310]);
  });

  it("gives a panel that was folded in another session its standard size", () => {
    keepSizes("shape", { upper: 0 });
    restoreSizes("shape");
    togglePanel("upper", "shape");
    expect(timeline.size()).toBe("32%");
  });

  it("stays as it is where a stage has no such panel", () => {
    panelHandles.upper.current = null;
    expect(togglePanel("upper", "deliver")).toBe(false);
    expect(usePanelSizes.getState().sizes).toEqual({});
  });
});
