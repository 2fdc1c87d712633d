import { screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import type { Finding } from "@core/findings/finding";
import { useCurrentItem } from "@ui/state/current-item";
import { useWorkspace } from "@ui/state/workspace-store";
import { inWorkspace } from "../../../tests/components/current-item";
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
    expect(screen.getAllByRole("button")).toHaveLength(10);
    expect(screen.getByText("and 4 more")).toBeTruthy();
  });
  it("tell faults from doubts", () => {
    shown([finding(), finding({ kind: "hum", about: null, severity: "doubt", title: "Hum at 50 Hz", places: [] })]);
    const marks = screen.getAllByRole("img").map((mark) => mark.getAttribute("aria-label"));
    expect(new Set(marks).size).toBe(2);
  });
});
