import { screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it } from "vitest";
import { newChainEntry } from "@core/processors";
import type { Command } from "@core/project/commands";
import type { MarkerKind } from "@core/project/document";
import { useWorkspace } from "@ui/state/workspace-store";
import { inWorkspace, RATE } from "../../tests/components/current-item";
import { ComplianceStrip } from "./compliance-strip";
import { MarkersPanel } from "./markers-panel";
import { useStageStatuses } from "./stage-statuses";

const markers = (...list: [id: string, kind: MarkerKind, name: string, second: number][]): Command[] => [
  {
    type: "addMarkers",
    item: "item-1",
    markers: list.map(([id, kind, name, second]) => ({ id, kind, name, start: second * RATE })),
  },
];

describe("the list of markers", () => {
  const three = markers(["m1", "mark", "Low tide", 1], ["m2", "retake", "again", 2], ["m3", "cut", "", 4]);
  const open = (prepare: Command[] = three) => {
    const shown = inWorkspace(<MarkersPanel />, { prepare });
    useWorkspace.setState({ dialog: "markers" });
    return shown;
  };
  const names = () =>
    within(screen.getByTestId("markers"))
      .getAllByRole<HTMLInputElement>("textbox")
      .map(({ value }) => value);

  it("says how one is set where there is none", async () => {
    open([]);
    expect(await screen.findByText(/There is no marker yet/)).toBeTruthy();
    expect(screen.getByText(/T sets one at the playhead/)).toBeTruthy();
  });

  it("is narrowed by words and by kind, and says so where nothing is left", async () => {
    open();
    const user = userEvent.setup();
    await screen.findByTestId("markers");
    await user.type(screen.getByLabelText("Find a marker"), "TIDE");
    expect(names()).toEqual(["Low tide"]);
    await user.selectOptions(screen.getByLabelText("Kind of marker"), "retake");
    expect(screen.getByText(/No marker is like that/)).toBeTruthy();
  });

  it("keeps a name when it is left, and a kind when it is chosen", async () => {
    const { document } = open();
    const user = userEvent.setup();
    const [first] = within(await screen.findByTestId("markers")).getAllByRole("textbox");
    await user.clear(first!);
    await user.type(first!, " High tide {Enter}");
    const [, second] = within(screen.getByTestId("markers")).getAllByRole("combobox");
    await user.selectOptions(second!, "question");
    expect(document().items[0]!.markers.map(({ name, kind }) => [name, kind])).toEqual([
      ["High tide", "mark"],
      ["again", "question"],
      ["", "cut"],
    ]);
  });

  it("takes away one, or all that are shown", async () => {
    const { document } = open();
    const user = userEvent.setup();
    await screen.findByTestId("markers");
    await user.click(screen.getAllByLabelText(/^Remove the marker at/)[1]!);
    expect(document().items[0]!.markers.map(({ id }) => id)).toEqual(["m1", "m3"]);
    await user.click(screen.getByRole("button", { name: "Remove these 2" }));
    expect(document().items[0]!.markers).toEqual([]);
  });

  it("says what lies in what is cut out", async () => {
    const clips = [
      { kind: "recording" as const, start: 0, end: RATE * 1.5 },
      { kind: "recording" as const, start: 3 * RATE, end: 6 * RATE },
    ];
    open([...three, { type: "setPieces", item: "item-1", clips, what: "cut out" }]);
    expect(await screen.findByText(/^1 marker lies in what is cut out/)).toBeTruthy();
    expect(names()).toEqual(["Low tide", ""]);
  });
});

describe("the strip", () => {
  const figure = (id: string) => screen.getByTestId(`standing-${id}`);

  it("shows the figures with their margins against the deliverable in force", () => {
    inWorkspace(<ComplianceStrip />, { template: "broadcast" });
    expect(figure("integratedLufs").textContent).toMatch(/over|under|spare/);
    expect(figure("integratedLufs").textContent).toMatch(/LUFS/);
    expect(screen.getByText(/1 of 1 “Low Door” · as it came/)).toBeTruthy();
  });

  it("shows what the deliverable limits, first what fails, and the rest by a click", async () => {
    inWorkspace(<ComplianceStrip />, { template: "audiobook" });
    const shown = () =>
      [...document.querySelectorAll("[data-testid^=standing]")].map((cell) => cell.getAttribute("data-testid"));
    expect(shown()).toHaveLength(5);
    expect(shown()).toEqual(
      expect.arrayContaining(["standing-rmsDbfs", "standing-samplePeakDbfs", "standing-noiseFloorDbfs"]),
    );
    // The made-up chapter is noise throughout: its floor is outside, and stands first.
    expect(figure("noiseFloorDbfs").textContent).toMatch(/over/);
    expect(shown()[0]).toBe("standing-noiseFloorDbfs");
    await userEvent.setup().click(screen.getByLabelText(/more figures/));
    expect(figure("durationSeconds").textContent).toMatch(/spare.*0:06\.0/);
    expect(figure("integratedLufs").textContent).toMatch(/no limit/);
  });

  it("follows the chain, and says that it does", () => {
    const level = (prepare: Command[]) => {
      const { unmount } = inWorkspace(<ComplianceStrip />, { template: "broadcast", prepare });
      const value = Number(within(figure("integratedLufs")).getByRole("meter").getAttribute("aria-valuenow"));
      const words = document.body.textContent;
      unmount();
      return { value, words };
    };
    const before = level([]);
    const entry = { ...newChainEntry("gain", "g"), gainDb: -5 };
    const after = level([{ type: "addProcessor", item: "item-1", entry }]);
    expect(after.value - before.value).toBeCloseTo(-5, 3);
    expect(after.words).toMatch(/chain, measured/);
  });

  it("says after repairs and cuts where that is so", () => {
    const clips = [{ kind: "recording" as const, start: 0, end: 3 * RATE }];
    inWorkspace(<ComplianceStrip />, { prepare: [{ type: "setPieces", item: "item-1", clips, what: "cut out" }] });
    expect(screen.getByText(/after repairs and cuts/)).toBeTruthy();
  });

  it("changes the deliverable in force", async () => {
    const { document } = inWorkspace(<ComplianceStrip />, { template: "audiobook" });
    const user = userEvent.setup();
    await user.click(screen.getByLabelText("Deliverable in force"));
    const [, second] = await screen.findAllByRole("menuitem");
    await user.click(second!);
    expect(document().activeDeliverable).toBe(document().deliverables[1]!.id);
  });
});

describe("what stands behind each stage", () => {
  function Statuses() {
    return <pre>{JSON.stringify(useStageStatuses())}</pre>;
  }
  const statuses = (prepare: Command[] = []) => {
    const { container, unmount } = inWorkspace(<Statuses />, { template: "broadcast", prepare });
    const told = JSON.parse(container.querySelector("pre")!.textContent!) as Record<string, { words: string }>;
    unmount();
    return told;
  };

  it("is told in words, in the singular and in the plural", () => {
    const gain = (id: string): Command => ({
      type: "addProcessor",
      item: "item-1",
      entry: newChainEntry("gain", id),
    });
    expect(statuses()["shape"]!.words).toBe("The chain is empty");
    expect(statuses([gain("a")])["shape"]!.words).toBe("1 processor in the chain");
    expect(statuses([gain("a"), gain("b")])["shape"]!.words).toBe("2 processors in the chain");
    expect(statuses([gain("a"), { type: "bypass", item: "item-1", entry: "a", bypass: true }])["shape"]!.words).toBe(
      "The chain is empty",
    );
  });

  it("says how many limits are missed, and how many masters are to be rendered", () => {
    const { inspect, deliver, intake } = statuses();
    expect(inspect!.words).toMatch(/^\d+ of \d+ limits of EBU R 128 are missed as it is/);
    expect(deliver!.words).toBe("1 master to render");
    expect(intake!.words).toBe("All recordings are read");
  });
});
