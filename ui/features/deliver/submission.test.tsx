import { screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it, vi } from "vitest";
import { specNamed } from "@core/delivery/specs";
import { layoutNamed } from "@core/audio/layout";
import { masterInputs, masterKey } from "@core/project/master-inputs";
import { newProject } from "@core/project/templates";
import { PLAIN_HEAD, type ReportHead } from "@core/project/report-head";
import type { Submission } from "@core/project/views";
import { answering } from "../../../tests/components/answers";
import { inWorkspace } from "../../../tests/components/current-item";
import { SubmissionView } from "./submission-view";

const PROJECT = "00000000-0000-4000-8000-000000000001";
const RECEIVERS = [
  { id: "folder", name: "A folder", help: "Below the data folder" },
  { id: "ingest", name: "Longshore Radio, ingest", help: "Takes broadcast masters" },
];
afterEach(() => vi.unstubAllGlobals());

const submission = (more: Partial<Submission>): Submission => ({
  id: "s1",
  project_id: PROJECT,
  receiver: "ingest",
  deliverable_id: "d1",
  state: "waiting",
  problem: null,
  files: [],
  fileCount: 3,
  asked_at: "2026-01-01T12:00:00Z",
  ...more,
});

function shown(submissions: Submission[] = [], documents: unknown[] = []) {
  const asked = answering({ "GET receivers": RECEIVERS, [`GET projects/${PROJECT}/documents`]: documents });
  inWorkspace(<SubmissionView />, { template: "music", view: { submissions } });
  return asked;
}

describe("documents", () => {
  it("are not offered before a master is rendered", async () => {
    shown();
    await waitFor(() => expect(screen.getByText(/are made once a master is rendered/)).toBeTruthy());
    const zip = screen.getByText(/Masters and documents as zip/).closest("a")!;
    expect(zip.getAttribute("aria-disabled")).toBe("true");
    expect(screen.getByTestId("documents").textContent).toMatch(/of 0 finished masters; \d+ are not rendered yet/);
  });
  it("are listed by name, each to be had", async () => {
    shown([], [{ name: "Cue sheet & tracks.cue", mediaType: "text/plain" }]);
    const link = (await screen.findByText("Cue sheet & tracks.cue")).closest("a")!;
    expect(link.getAttribute("href")).toBe(`/api/projects/${PROJECT}/documents/Cue%20sheet%20%26%20tracks.cue`);
  });
});

describe("the head of the reports", () => {
  it("is told in a line, and changed in a sheet, each field when it is left", async () => {
    answering({ "GET receivers": [], [`GET projects/${PROJECT}/documents`]: [] });
    const { document } = inWorkspace(<SubmissionView />, { template: "music" });
    expect(screen.getByText("head of the reports: no studio · A4")).toBeTruthy();
    const user = userEvent.setup();
    await user.click(screen.getByRole("button", { name: "change" }));
    await user.type(screen.getByLabelText("Studio"), "Marsh Room{Enter}");
    await user.type(screen.getByLabelText("Address"), "4 Sluice Quay{Enter}Odda");
    await user.type(screen.getByLabelText("Client"), "Lockhouse Voices");
    await user.selectOptions(screen.getByLabelText("Paper"), "Letter");
    expect(document().about.report).toEqual({
      studio: "Marsh Room",
      contact: "4 Sluice Quay\nOdda",
      engineer: "",
      client: "Lockhouse Voices",
      paper: "Letter",
    });
    expect(screen.getByText("head of the reports: Marsh Room · for Lockhouse Voices · Letter")).toBeTruthy();
  });
  it("changes no master: it stands on papers alone", () => {
    const empty = newProject("Weir", "music");
    const item = { id: "a", name: "Weir", source: "c".repeat(64), repairs: [], chain: [], markers: [] };
    const recording = { layout: layoutNamed("stereo")!, sampleRate: 48_000, frames: 48_000 };
    const keyOf = (report?: ReportHead) => {
      const document = { ...empty, items: [item], about: { ...empty.about, ...(report ? { report } : {}) } };
      return masterKey(masterInputs(document, item, document.deliverables[0]!, () => recording)!);
    };
    expect(keyOf({ ...PLAIN_HEAD, studio: "Marsh Room" })).toBe(keyOf());
  });
});

describe("submitting", () => {
  it("is offered to each receiver, but not of what has no finished master", async () => {
    const asked = shown();
    await screen.findByText("Longshore Radio, ingest");
    for (const button of screen.getAllByRole("button", { name: "Submit" }))
      expect((button as HTMLButtonElement).disabled).toBe(true);
    expect(asked.filter(({ method }) => method === "POST")).toEqual([]);
  });
  it("names deliverables by their specification", async () => {
    shown();
    const choice = await screen.findByLabelText("What A folder is given");
    const names = newProject("", "music").deliverables.map(({ spec }) => specNamed(spec).name);
    expect(
      within(choice)
        .getAllByRole("option")
        .map((option) => option.textContent),
    ).toEqual(names);
  });
});

describe("submissions so far", () => {
  it("say how many files a receiver has taken", async () => {
    shown([submission({ files: [{ name: "One.wav", accepted: true, reasons: [] }] })]);
    await waitFor(() => expect(screen.getByTestId("submissions").textContent).toContain("Longshore Radio, ingest"));
    expect(screen.getByTestId("submissions").textContent).toContain("under way, 1 of 3 files");
  });
  it("give each file's reasons where they were refused", () => {
    const refused = { name: "One.wav", accepted: false, reasons: ["The level is too high.", "No title."] };
    shown([submission({ state: "refused", files: [refused, { name: "Two.wav", accepted: true, reasons: [] }] })]);
    const log = screen.getByTestId("submissions");
    expect(log.textContent).toContain("One.wav: The level is too high. No title.");
    expect(log.textContent).not.toContain("Two.wav");
  });
  it("say why one failed, and of which deliverable, also where that is gone", () => {
    shown([submission({ state: "failed", problem: "The receiver does not answer.", deliverable_id: "gone" })]);
    expect(screen.getByText("The receiver does not answer.")).toBeTruthy();
    expect(screen.getByTestId("submissions").textContent).toContain("a deliverable of before");
  });
  it("do not stand there where there are none", () => {
    shown();
    expect(screen.queryByTestId("submissions")).toBeNull();
  });
});
