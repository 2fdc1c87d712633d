import { screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it, vi } from "vitest";
import { CORE_VERSION } from "@core/audio/core-version";
import type { BackupRun, HealthCheck, OperationsView, WorkerView } from "@core/project/operations-view";
import { answering } from "../../../tests/components/answers";
import { show } from "../../../tests/components/current-item";
import { Operations } from "./operations";

afterEach(() => vi.unstubAllGlobals());

const run = (more: Partial<BackupRun>): BackupRun => ({
  id: "1",
  place: "/mnt/second/resonum",
  started_at: "2026-11-30T03:00:00Z",
  finished_at: "2026-11-30T03:00:42Z",
  snapshot: "2026-11-30T03-00-00",
  blobs: 412,
  bytes: 52_000_000_000,
  copied_bytes: 1_200_000_000,
  lost: 0,
  problem: null,
  ...more,
});
const CHECKS: HealthCheck[] = [
  { name: "Database", state: "ok", words: "PostgreSQL 16" },
  { name: "Free space", state: "failed", words: "0.2 GB for the store: make room." },
];
const VIEW: OperationsView = {
  queues: [{ queue: "render", active: 2, waiting: 14, waited: 300 }],
  workers: [],
  backups: [],
  schedule: null,
};
const worker = (more: Partial<WorkerView>): WorkerView => ({
  name: "sluice-41",
  machine: "sluice",
  core_version: CORE_VERSION,
  started_at: "2026-11-30T03:00:00Z",
  seen_at: new Date().toISOString(),
  load: 0.51,
  memory_bytes: 300_000_000,
  drained: false,
  stop_asked: false,
  gone: false,
  jobs: [],
  ...more,
});
async function shown(view: Partial<OperationsView> = {}, answers: Record<string, unknown> = {}) {
  const asked = answering({
    "GET projects": [],
    "GET webhooks": [],
    "GET operations": { ...VIEW, ...view },
    "GET operations/health": CHECKS,
    ...answers,
  });
  show(<Operations />);
  await screen.findByText("PostgreSQL 16");
  return asked;
}

describe("operations", () => {
  it("tell what is not well, with what to do, and how long jobs wait", async () => {
    await shown();
    expect(screen.getByText("1 of 2 want to be looked at")).toBeTruthy();
    const row = within(screen.getByText("0.2 GB for the store: make room.").closest("tr")!);
    expect(row.getByRole("img").getAttribute("aria-label")).toMatch(/outside|fail/i);
    const render = within(screen.getByText("Rendering masters").closest("tr")!);
    expect(render.getAllByRole("cell").map(({ textContent }) => textContent)).toEqual([
      "Rendering masters",
      "2",
      "14",
      "5 min",
    ]);
  });

  it("look at what the studio stands on when they are opened and when it is asked for", async () => {
    const asked = await shown();
    const examined = () => asked.filter(({ path }) => path === "operations/health").length;
    expect(examined()).toBe(1);
    await userEvent.setup().click(screen.getByRole("button", { name: "Look again" }));
    await waitFor(() => expect(examined()).toBe(2));
  });

  it("look again once a backup has ended", async () => {
    let backups = [run({ id: "1", finished_at: null })];
    const asked = await shown({}, { "GET operations": () => ({ ...VIEW, backups }) });
    const examined = () => asked.filter(({ path }) => path === "operations/health").length;
    expect(examined()).toBe(1);
    backups = [run({ id: "1" })];
    await waitFor(() => expect(examined()).toBe(2), { timeout: 20_000 });
  });

  it("say what a backup is where there is none, and ask for one in the folder that is typed", async () => {
    const asked = await shown();
    expect(screen.getByText(/There is none yet/)).toBeTruthy();
    const begin = screen.getByRole<HTMLButtonElement>("button", { name: "Back up now" });
    expect(begin.disabled).toBe(true);
    const user = userEvent.setup();
    await user.type(screen.getByLabelText("folder"), "/mnt/second{Enter}");
    await waitFor(() =>
      expect(asked).toContainEqual({ method: "POST", path: "operations/backups", body: { folder: "/mnt/second" } }),
    );
  });

  it("tell backups that are whole, that lack blobs, that failed and that are under way apart", async () => {
    await shown({
      schedule: { folder: "/mnt/second/resonum", hours: 24 },
      backups: [
        run({ id: "1", finished_at: null, snapshot: null, blobs: null, bytes: null, copied_bytes: null, lost: null }),
        run({ id: "2" }),
        run({ id: "3", lost: 2 }),
        run({ id: "4", snapshot: null, problem: "The disk is full." }),
      ],
    });
    const rows = within(screen.getByTestId("backups")).getAllByRole("row").slice(1);
    expect(rows[0]!.textContent).toContain("under way");
    expect(rows[1]!.textContent).toMatch(/412.*GB.*42 seconds/);
    expect(rows[2]!.textContent).toContain("without 2");
    expect(rows[3]!.textContent).toContain("The disk is full.");
    expect(screen.getByText(/by themselves every 24 h/)).toBeTruthy();
    expect(screen.getByLabelText<HTMLInputElement>("folder").value).toBe("/mnt/second/resonum");
  });

  it("tell each worker's jobs, drain it, take it up again, and end it", async () => {
    const path = "operations/workers/sluice-41";
    const asked = await shown({
      workers: [
        worker({ jobs: [{ queue: "render", stage: "rendering", fraction: 0.42 }] }),
        worker({ name: "weir-7", machine: "weir", drained: true }),
        worker({ name: "weir-8", machine: "weir", core_version: "3" }),
        worker({ name: "lock-2", machine: "lock", gone: true, seen_at: "2026-01-01T00:00:00Z" }),
      ],
    });
    expect(screen.getByText("2 at work, on 2 machines")).toBeTruthy();
    const [busy, drained, old, gone] = within(screen.getByTestId("workers"))
      .getAllByRole("row")
      .slice(1)
      .map((row) => within(row));
    expect(busy!.getByText("Rendering masters 42 %")).toBeTruthy();
    expect(old!.getByText(`the studio has ${CORE_VERSION}`)).toBeTruthy();
    expect(gone!.getByText(/last heard of/)).toBeTruthy();
    expect(gone!.queryByRole("button", { name: "Drain" })).toBeNull();
    const user = userEvent.setup();
    await user.click(busy!.getByRole("button", { name: "Drain" }));
    await user.click(drained!.getByRole("button", { name: "Resume" }));
    await user.click(busy!.getByRole("button", { name: "End" }));
    await user.click(gone!.getByRole("button", { name: "Remove" }));
    expect(asked.filter(({ method }) => method !== "GET")).toEqual([
      { method: "PATCH", path, body: { drained: true } },
      { method: "PATCH", path: "operations/workers/weir-7", body: { drained: false } },
      { method: "DELETE", path, body: undefined },
      { method: "DELETE", path: "operations/workers/lock-2", body: undefined },
    ]);
  });

  it("say what went wrong where the studio does not answer", async () => {
    answering({ "GET operations": new Error("The database does not answer.") });
    show(<Operations />);
    expect(await screen.findByText("The database does not answer.", {}, { timeout: 9000 })).toBeTruthy();
  });
});
