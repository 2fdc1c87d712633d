import { screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { ProjectStatus, ProjectSummary } from "@core/project/views";
import { answering, type Asked } from "../../../tests/components/answers";
import { show } from "../../../tests/components/current-item";
import { Library } from "./library";

vi.mock("next/navigation", () => ({ useRouter: () => ({ push: vi.fn() }) }));
afterEach(() => vi.unstubAllGlobals());

const standing = (more: Partial<ProjectStatus> = {}): ProjectStatus => ({
  standing: "pass",
  mastersWanted: 2,
  mastersPassed: 2,
  mastersFailed: 0,
  predicted: null,
  deliverable: "Broadcast",
  ...more,
});
const project = (name: string, more: Partial<ProjectSummary> = {}): ProjectSummary => ({
  id: name.toLowerCase().replace(/ /g, "-"),
  name,
  template: "music",
  items: 3,
  states: 4,
  seconds: 754,
  changed_at: "2026-02-03T10:00:00Z",
  shelf: null,
  standing: standing(),
  ...more,
});

const PROJECTS = [
  project("Saltmarsh Hours", { changed_at: "2026-02-01T10:00:00Z", seconds: 2400 }),
  project("Low Water", {
    template: "broadcast",
    standing: standing({
      standing: "fail",
      mastersPassed: 0,
      mastersFailed: 1,
      predicted: { inside: 0, outside: 1 },
    }),
  }),
  project("Orchard at Dusk", {
    changed_at: "2026-02-02T10:00:00Z",
    seconds: 60,
    standing: standing({ standing: "unknown", mastersWanted: 0, mastersPassed: 0, deliverable: null }),
  }),
];

const names = () =>
  screen
    .getAllByRole("row")
    .slice(1)
    .map((row) => within(row).getByRole("link").textContent);
async function shown(projects: unknown = PROJECTS) {
  const asked = answering({ "GET projects": projects });
  show(<Library />);
  await waitFor(() => expect(screen.queryByText(/Looking into the library/)).toBeNull());
  return asked;
}

describe("the library", () => {
  it("shows what was changed last first, with where each project stands", async () => {
    await shown();
    expect(names()).toEqual(["Low Water", "Orchard at Dusk", "Saltmarsh Hours"]);
    const row = (name: string) => within(screen.getByRole("link", { name }).closest("tr")!);
    expect(row("Low Water").getByText("0 of 2 masters pass, 1 fail, 1 predicted outside")).toBeTruthy();
    expect(row("Orchard at Dusk").getByText("no deliverable yet")).toBeTruthy();
    expect(row("Saltmarsh Hours").getByText("40:00")).toBeTruthy();
    expect(screen.getByRole("link", { name: "Low Water" }).getAttribute("href")).toBe("/projects/low-water");
  });
  it.each([
    ["name", ["Low Water", "Orchard at Dusk", "Saltmarsh Hours"]],
    ["length", ["Saltmarsh Hours", "Low Water", "Orchard at Dusk"]],
    ["standing", ["Low Water", "Saltmarsh Hours", "Orchard at Dusk"]],
  ])("is ordered by %s", async (order, expected) => {
    await shown();
    await userEvent.setup().selectOptions(screen.getByRole("combobox"), order);
    expect(names()).toEqual(expected);
  });
  it("finds by name and by kind, and says what it did not find", async () => {
    await shown();
    const user = userEvent.setup();
    const field = screen.getByLabelText("Find a project, recording or master");
    await user.type(field, "broadcast");
    expect(names()).toEqual(["Low Water"]);
    await user.clear(field);
    await user.type(field, "lighthouse");
    expect(screen.getByText("No project is called “lighthouse”.")).toBeTruthy();
  });
  it("says that there is nothing yet, and what to do", async () => {
    await shown([]);
    expect(screen.getByText(/“New project” makes one from a template/)).toBeTruthy();
  });
  it("says why the library cannot be seen", async () => {
    await shown(new Error("The database is starting."));
    await waitFor(() => expect(screen.getByText(/The database is starting/)).toBeTruthy());
  });
});

describe("what is done with a project from outside", () => {
  const SHELVED = [...PROJECTS, project("Old Weir", { shelf: "archive" }), project("Mistake", { shelf: "bin" })];
  async function menu(of: string) {
    const user = userEvent.setup();
    await user.click(screen.getByRole("button", { name: `More for ${of}` }));
    return (entry: string) => user.click(screen.getByRole("menuitem", { name: entry }));
  }
  const sent = (asked: Asked[]) => asked.filter(({ method }) => method !== "GET");

  it("shows those that are worked on, and the shelves by themselves, with how many lie there", async () => {
    await shown(SHELVED);
    expect(names()).not.toContain("Old Weir");
    const user = userEvent.setup();
    await user.click(screen.getByRole("button", { name: "archive 1" }));
    expect(names()).toEqual(["Old Weir"]);
    await user.click(screen.getByRole("button", { name: "bin 1" }));
    expect(names()).toEqual(["Mistake"]);
  });
  it("renames in place: Enter keeps, Escape leaves as it was", async () => {
    const asked = await shown(SHELVED);
    const user = userEvent.setup();
    await (
      await menu("Low Water")
    )("Rename");
    await user.type(await screen.findByLabelText("Name of Low Water"), "Lost{Escape}");
    expect(sent(asked)).toEqual([]);
    await (
      await menu("Low Water")
    )("Rename");
    const field = await screen.findByLabelText("Name of Low Water");
    await user.clear(field);
    await user.type(field, "High Water{Enter}");
    await waitFor(() =>
      expect(sent(asked)).toEqual([{ method: "PATCH", path: "projects/low-water", body: { name: "High Water" } }]),
    );
  });
  it("duplicates, archives and deletes; only the bin removes for good", async () => {
    const asked = await shown(SHELVED);
    await (
      await menu("Low Water")
    )("Duplicate, without history and masters");
    await (
      await menu("Low Water")
    )("Archive");
    await (
      await menu("Low Water")
    )("Delete");
    await userEvent.setup().click(screen.getByRole("button", { name: "bin 1" }));
    const choose = await menu("Mistake");
    expect(screen.queryByRole("menuitem", { name: "Delete" })).toBeNull();
    await choose("Take out of the bin");
    await (
      await menu("Mistake")
    )("Remove for good …");
    expect(sent(asked)).toHaveLength(4);
    await userEvent.setup().click(await screen.findByRole("menuitem", { name: "Yes, with its history and masters" }));
    await waitFor(() => expect(sent(asked)).toHaveLength(5));
    expect(sent(asked).map(({ method, path, body }) => [method, path, body])).toEqual([
      ["POST", "projects/low-water/copy", undefined],
      ["PATCH", "projects/low-water", { shelf: "archive" }],
      ["PATCH", "projects/low-water", { shelf: "bin" }],
      ["PATCH", "projects/mistake", { shelf: null }],
      ["DELETE", "projects/mistake", undefined],
    ]);
  });

  it("finds recordings and masters of all projects beside them, by words and by figures", async () => {
    const figures = {
      integratedLufs: -21.4,
      truePeakDbtp: -0.4,
      loudnessRangeLu: 8,
      noiseFloorDbfs: -62,
      durationSeconds: 65,
    };
    const found = {
      recordings: [
        {
          hash: "a",
          name: "Weir.wav",
          projects: ["saltmarsh-hours", "low-water", "gone"],
          encoding: "24-bit integer",
          figures,
          problem: null,
        },
        { hash: "b", name: "Lost weir.wav", projects: [], encoding: null, figures: null, problem: "It did not come." },
      ],
      masters: [
        {
          id: "m",
          project_id: "low-water",
          title: "Weir at Night",
          spec: "Streaming",
          container: "mp3",
          figures,
          pass: false,
          state: "done",
        },
      ],
      moreRecordings: false,
      moreMasters: true,
    };
    const path = `media?q=${encodeURIComponent("weir")}`;
    const strict = `media?q=${encodeURIComponent("true peak over −1")}`;
    const asked = answering({
      "GET projects": PROJECTS,
      [`GET ${path}`]: found,
      [`GET ${strict}`]: { ...found, masters: [] },
    });
    show(<Library />);
    const field = await screen.findByLabelText("Find a project, recording or master");
    const user = userEvent.setup();
    await user.type(field, "weir");
    const recordings = within(await screen.findByRole("region", { name: "Recordings" }));
    const [weir, lost] = recordings
      .getAllByRole("row")
      .slice(1)
      .map((row) => within(row));
    expect(weir!.getByRole("link", { name: "Saltmarsh Hours" }).getAttribute("href")).toBe("/projects/saltmarsh-hours");
    expect(weir!.getByText("and 1 other")).toBeTruthy();
    expect(weir!.getByText("−0.4")).toBeTruthy();
    expect(lost!.getByText("in no project")).toBeTruthy();
    expect(lost!.getByText("It did not come.")).toBeTruthy();
    const masters = within(screen.getByRole("region", { name: "Masters" }));
    expect(masters.getByText("Streaming, MP3")).toBeTruthy();
    expect(masters.getByText(/the latest 1: more words narrow it down/)).toBeTruthy();
    // One request for what was typed at once.
    expect(asked.filter(({ path: one }) => one.startsWith("media"))).toHaveLength(1);
    await user.clear(field);
    await user.type(field, "true peak over −1");
    expect(await screen.findAllByText(/true peak over −1 dBTP/)).toHaveLength(2);
    expect(screen.queryByRole("link", { name: "Orchard at Dusk" })).toBeNull();
    expect(screen.queryByText(/No project is called/)).toBeNull();
  });
});
