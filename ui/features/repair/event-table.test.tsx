import { fireEvent, screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it, vi } from "vitest";
import type { DetectedEvent } from "@core/events/event";
import { useCurrentItem } from "@ui/state/current-item";
import { useWorkspace } from "@ui/state/workspace-store";
import { inWorkspace, RATE } from "../../../tests/components/current-item";
import { EventTable, type EventState } from "./event-table";

const heard = vi.fn();
vi.mock("@ui/state/listening-engine", async (original) => ({
  ...(await original<object>()),
  engine: () => ({ playStretch: heard, seek: () => undefined, state: { playing: false } }),
}));

const place = (seconds: number, sizeDb: number, ms = 2): DetectedEvent => ({
  start: seconds * RATE,
  end: seconds * RATE + (ms * RATE) / 1000,
  sizeDb,
});
const PLACES = [place(3, 12), place(1, 6), place(2, 20, 1500)];

function table(more: Partial<Parameters<typeof EventTable>[0]> = {}) {
  heard.mockClear();
  const [onTreat, onLeave] = [vi.fn(), vi.fn()];
  function Table() {
    const { facts } = useCurrentItem();
    return (
      <EventTable
        places={PLACES}
        facts={facts!}
        stateOf={() => "open" as EventState}
        onTreat={onTreat}
        onLeave={onLeave}
        keyWords="Enter: treat; Delete: leave."
        heading="3 clicks"
        {...more}
      />
    );
  }
  inWorkspace(<Table />);
  return { onTreat, onLeave };
}
/** Of the list; the choice of an order has options as well. */
const places = () => within(screen.getByRole("listbox")).getAllByRole("option");
const rows = () => places().map((row) => row.textContent);
const press = (key: string) => fireEvent.keyDown(screen.getByRole("listbox"), { key });

describe("places in a recording", () => {
  it("stand by time, with their length and size, or by size", async () => {
    table();
    expect(rows()).toEqual(["0:01.0002.0 ms 6 dB", "0:02.0001.50 s 20 dB", "0:03.0002.0 ms 12 dB"]);
    await userEvent.setup().selectOptions(screen.getByLabelText("Order of the places"), "size");
    expect(rows()[0]).toContain("20 dB");
  });
  it("are gone through by arrows, and each is heard with what is around it", () => {
    table();
    press("ArrowDown");
    expect(places()[1]!.getAttribute("aria-selected")).toBe("true");
    expect(heard).toHaveBeenCalledExactlyOnceWith(1.3 * RATE, 4.2 * RATE);
    for (let n = 0; n < 5; n++) press("ArrowDown");
    expect(places()[2]!.getAttribute("aria-selected")).toBe("true");
    press("ArrowUp");
    expect(places()[1]!.getAttribute("aria-selected")).toBe("true");
  });
  it("are treated by Enter and left alone by Delete: the one that is chosen", () => {
    const { onTreat, onLeave } = table();
    press("ArrowDown");
    press("Enter");
    press("Delete");
    expect(onTreat).toHaveBeenCalledExactlyOnceWith(PLACES[2]);
    expect(onLeave).toHaveBeenCalledExactlyOnceWith(PLACES[2]);
  });
  it("leave other keys to the workspace", () => {
    const { onTreat } = table();
    const event = new KeyboardEvent("keydown", { key: "x", bubbles: true, cancelable: true });
    screen.getByRole("listbox").dispatchEvent(event);
    expect(event.defaultPrevented).toBe(false);
    expect(onTreat).not.toHaveBeenCalled();
  });
  it("are shown where they are", async () => {
    table();
    useWorkspace.setState({ view: { start: 0, end: 0.5 } });
    await userEvent.setup().click(places()[2]!);
    const { view } = useWorkspace.getState();
    expect(view!.start).toBeLessThanOrEqual(3);
    expect(view!.end).toBeGreaterThanOrEqual(3);
  });
  it("say what became of them", () => {
    table({ stateOf: (one) => (one.sizeDb > 10 ? "left" : "treated") });
    expect(screen.getAllByTitle("treated")).toHaveLength(1);
    expect(places().filter((row) => row.className.includes("line-through"))).toHaveLength(2);
  });
  it("are heard again by Enter where there is nothing to do", () => {
    table({ onTreat: undefined as never });
    press("Enter");
    expect(heard).toHaveBeenCalledTimes(1);
    expect(screen.queryByRole("button", { name: /Treat it/ })).toBeNull();
  });
  it("are three hundred at a time, and the rest is counted", () => {
    const many = Array.from({ length: 350 }, (_, n) => place(0.01 * (n + 1), 6));
    table({ places: many });
    expect(places()).toHaveLength(300);
    expect(screen.getByText(/The first 300 are shown/)).toBeTruthy();
  });
  it("of nothing is a heading alone", () => {
    table({ places: [] });
    expect(screen.queryByRole("listbox")).toBeNull();
    expect(screen.getByText("3 clicks")).toBeTruthy();
  });
});
