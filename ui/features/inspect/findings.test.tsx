import { screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import type { SoughtEvents } from "@core/events/sought-events";
import { findingsOf } from "@core/findings";
import type { Command } from "@core/project/commands";
import type { Finding } from "@core/findings/finding";
import { useCurrentItem } from "@ui/state/current-item";
import { useWorkspace } from "@ui/state/workspace-store";
import { soughtInItem } from "@ui/state/sought-events";
import { inWorkspace, RATE } from "../../../tests/components/current-item";
import { FindingsView } from "./findings-view";
import type { MeasuredRange } from "./use-measured";

const finding = (more: Partial<Finding> = {}): Finding => ({
  kind: "clipping",
  about: "L",
  severity: "fault",
  title: "L is clipped",
  facts: "At −2.0 dBFS, 3 places.",
  advice: "Declip it before anything else.",
  places: [{ seconds: 1.5, length: 0.01 }],
  ...more,
});

function View({ findings, offset }: { findings: Finding[]; offset: number }) {
  const { facts } = useCurrentItem();
  return <FindingsView facts={facts!} stretch={{ offset } as MeasuredRange} findings={findings} />;
}
const shown = (findings: Finding[], offset = 0) => inWorkspace(<View findings={findings} offset={offset} />);

const sought: SoughtEvents[] = [
  { kind: "clicks", count: 25, places: [{ seconds: 2.5, length: 0.001 }] },
  { kind: "breaths", count: 2, places: [{ seconds: 4, length: 0.3 }] },
];
const mend = (name: string) => userEvent.setup().click(screen.getByRole("button", { name }));

/** What the search found, as it stands in Findings. */
function Sought() {
  const { facts } = useCurrentItem();
  const findings = findingsOf(facts!.figures, null, soughtInItem(facts!));
  return <FindingsView facts={facts!} stretch={{ offset: 0 } as MeasuredRange} findings={findings} />;
}

describe("what mends a finding", () => {
  it("is added with settings that fit, and opened; a second time what is there is opened", async () => {
    const { document, edits } = inWorkspace(<Sought />, { source: { events: sought } });
    expect(screen.getByText("25 clicks")).toBeTruthy();
    await mend("Mend with Clicks");
    const [step] = document().items[0]!.repairs;
    expect(step).toMatchObject({ type: "clicks" });
    expect(useWorkspace.getState()).toMatchObject({ stage: "repair", step: step!.id });
    expect(edits).toHaveLength(1);
    // What is mended is noticed no more.
    expect(screen.queryByText("25 clicks")).toBeNull();
  });
  it("leads to the list where a person decides", async () => {
    inWorkspace(<Sought />, { source: { events: sought } });
    await mend("Open the list of events");
    expect(useWorkspace.getState()).toMatchObject({ stage: "repair", step: null, repair: "lists" });
  });
  it("is counted where the item has it: what is cut out is not", () => {
    const clips: Command = {
      type: "setClipsOfItems",
      items: [{ item: "item-1", clips: [{ kind: "recording", start: 3 * RATE, end: 5 * RATE }] }],
      what: "trim",
    };
    inWorkspace(<Sought />, { source: { events: sought }, prepare: [clips] });
    expect(screen.queryByText("25 clicks")).toBeNull();
    expect(screen.getByText("2 breaths")).toBeTruthy();
    expect(screen.getByRole("button", { name: /0:01.00/ })).toBeTruthy();
  });
  it("says that it is still being looked for", () => {
    inWorkspace(<Sought />);
    expect(screen.getByText(/are looked for in the background/)).toBeTruthy();
  });
});

describe("findings", () => {
  it("say what was looked for where nothing was noticed", () => {
    shown([]);
    expect(screen.getByText(/no clipping, DC, hum or cut-off band/)).toBeTruthy();
  });
  it("tell the fact, what could be done, and lead to the place", async () => {
    shown([finding()]);
    const text = screen.getByTestId("findings").textContent;
    for (const words of ["L is clipped", "At −2.0 dBFS", "Declip it before anything else."])
      expect(text).toContain(words);
    await userEvent.setup().click(screen.getByRole("button", { name: /0:01.50/ }));
    expect(useWorkspace.getState().cursor).toBeCloseTo(1.5, 1);
  });
  it("count places from where what was measured begins", () => {
    shown([finding()], 2);
    expect(screen.getByTestId("findings").textContent).toContain("0:03.50");
  });
  it("name ten places, and how many more there are", () => {
    const places = Array.from({ length: 14 }, (_, n) => ({ seconds: 0.1 + n * 0.3, length: 0.01 }));
    shown([finding({ places })]);
    expect(screen.getAllByRole("button", { name: /0:/ })).toHaveLength(10);
    expect(screen.getByText("and 4 more")).toBeTruthy();
  });
  it("tell faults from doubts", () => {
    shown([finding(), finding({ kind: "hum", about: null, severity: "doubt", title: "Hum at 50 Hz", places: [] })]);
    const marks = screen.getAllByRole("img").map((mark) => mark.getAttribute("aria-label"));
    expect(new Set(marks).size).toBe(2);
  });
});
