import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { goToWindow, watchWindows } from "./window-history";
import { useWorkspace, type TimeRange } from "./workspace-store";

let end: () => void;
beforeEach(() => {
  vi.useFakeTimers({ toFake: ["performance"] });
  useWorkspace.setState(useWorkspace.getInitialState());
  end = watchWindows();
  useWorkspace.setState({ item: "a" });
  vi.advanceTimersByTime(10_000);
});
afterEach(() => {
  end();
  vi.useRealTimers();
});

const look = (start: number, finish: number, wait = 2000): void => {
  useWorkspace.setState({ view: { start, end: finish } });
  vi.advanceTimersByTime(wait);
};
const shown = (): TimeRange | null => useWorkspace.getState().view;

describe("windows that were looked at before", () => {
  it("are gone back to one by one, and forth again", () => {
    look(0, 60);
    look(10, 20);
    look(12, 13);
    goToWindow("back");
    expect(shown()).toEqual({ start: 10, end: 20 });
    goToWindow("back");
    expect(shown()).toEqual({ start: 0, end: 60 });
    goToWindow("back");
    expect(shown()).toBeNull();
    goToWindow("back");
    expect(shown()).toBeNull();
    goToWindow("forth");
    goToWindow("forth");
    expect(shown()).toEqual({ start: 10, end: 20 });
  });
  it("are as they were left: where one was scrolled, that is where it is gone back to", () => {
    look(0, 60);
    look(30, 90);
    look(40, 41);
    goToWindow("back");
    expect(shown()).toEqual({ start: 30, end: 90 });
    goToWindow("back");
    expect(shown()).toBeNull();
  });
  it("hold the turns of a wheel for one", () => {
    look(0, 60);
    for (const finish of [50, 40, 30, 20]) look(0, finish, 50);
    vi.advanceTimersByTime(2000);
    goToWindow("back");
    expect(shown()).toEqual({ start: 0, end: 60 });
  });
  it("forget what lay ahead once another window is zoomed to, and all of them with another item", () => {
    look(0, 60);
    look(10, 20);
    goToWindow("back");
    look(5, 8);
    goToWindow("forth");
    expect(shown()).toEqual({ start: 5, end: 8 });
    useWorkspace.setState({ item: "b", view: null });
    goToWindow("back");
    expect(shown()).toBeNull();
  });
});
