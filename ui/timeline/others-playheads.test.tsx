import { act, screen } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Presence } from "@core/people/presence";
import { receivePresence, usePresence } from "@ui/api/presence";
import { useCurrentItem } from "@ui/state/current-item";
import { useWorkspace } from "@ui/state/workspace-store";
import { inWorkspace, SECONDS } from "../../tests/components/current-item";
import { OthersPlayheads } from "./others-playheads";

afterEach(() => {
  vi.useRealTimers();
  usePresence.setState({ others: {}, followed: null });
});

function Shown() {
  const { facts } = useCurrentItem();
  return facts && <OthersPlayheads facts={facts} />;
}

const told = (more: Partial<Presence> = {}) =>
  act(() =>
    receivePresence({
      ...{ name: "Marl", page: "page-of-marl", stage: "shape", item: "item-1", seconds: SECONDS / 4, playing: false },
      ...{ selection: null, view: null, asks: false, leaves: false },
      ...more,
    }),
  );
const left = () => Number.parseFloat(screen.getByText("Marl").parentElement!.style.left);

describe("playheads of others", () => {
  it("stand where they are, with names, in the item that is in hand alone", () => {
    inWorkspace(<Shown />);
    told();
    expect(left()).toBeCloseTo(25, 6);
    told({ seconds: SECONDS / 2 });
    expect(left()).toBeCloseTo(50, 6);
    told({ item: "another" });
    expect(screen.queryByText("Marl")).toBeNull();
    told();
    told({ leaves: true });
    expect(screen.queryByText("Marl")).toBeNull();
  });

  it("run while they listen, to the end at most", () => {
    vi.useFakeTimers();
    inWorkspace(<Shown />);
    told({ playing: true, seconds: 0 });
    act(() => void vi.advanceTimersByTime(1000));
    expect(left()).toBeCloseTo(100 / SECONDS, 0);
    act(() => void vi.advanceTimersByTime(1000 * SECONDS));
    expect(left()).toBeCloseTo(100, 6);
  });

  it("come with what is selected, and lie in the window that is shown", async () => {
    inWorkspace(<Shown />);
    told({ seconds: SECONDS / 2, selection: { start: SECONDS / 4, end: SECONDS / 2 } });
    const selected = () => screen.getByTestId("others").querySelector<HTMLElement>("[aria-hidden]")!.style;
    expect(Number.parseFloat(selected().left)).toBeCloseTo(25, 6);
    expect(Number.parseFloat(selected().width)).toBeCloseTo(25, 6);
    act(() => useWorkspace.setState({ view: { start: SECONDS / 4, end: (3 * SECONDS) / 4 } }));
    await vi.waitFor(() => expect(Number.parseFloat(selected().width)).toBeCloseTo(50, 6));
  });
});
