import { screen, waitFor, within } from "@testing-library/react";
import { afterEach, describe, expect, it, vi } from "vitest";
import { specNamed } from "@core/delivery/specs";
import { newProject } from "@core/project/templates";
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
