import { screen, waitFor, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { act } from "react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { HistoryState } from "@core/project/views";
import { useWorkspace } from "@ui/state/workspace-store";
import { answering } from "../../tests/components/answers";
import { inWorkspace } from "../../tests/components/current-item";
import { HistoryPanel } from "./history-panel";

// One edit after the other, over all windows: there is only this one.
beforeEach(() =>
  Object.defineProperty(navigator, "locks", {
    configurable: true,
    value: { request: (...rest: unknown[]) => (rest.at(-1) as () => unknown)() },
  }),
);
afterEach(() => vi.unstubAllGlobals());

const state = (id: number, label: string, more: Partial<HistoryState> = {}): HistoryState => ({
  id,
  parent: id > 1 ? id - 1 : null,
  label,
  author: "engineer",
  version_name: null,
  created_at: `2026-01-01T12:00:0${id % 10}Z`,
  ...more,
});

async function shown(states: HistoryState[], more: Record<string, unknown> = {}, head = 2) {
  const asked = answering({
    "GET projects/p/history": states,
    "GET projects/p/history?named=yes": states.filter(({ version_name }) => version_name),
    ...more,
  });
  inWorkspace(<HistoryPanel project="p" />, { view: { head, undo: 1, redo: null } });
  act(() => useWorkspace.setState({ dialog: "history" }));
  await screen.findByLabelText("States, newest first");
  await waitFor(() => expect(screen.queryByText(/Reading the history/)).toBeNull());
  return asked;
}
const rows = () => within(screen.getByLabelText("States, newest first")).getAllByRole("listitem");

describe("the history", () => {
  it("lists states, the newest first, and says where the project is", async () => {
    await shown([state(2, "Limiter added"), state(1, "Project made")]);
    expect(rows().map((row) => row.querySelector("p")!.textContent)).toEqual(["Limiter added", "Project made"]);
    expect(within(rows()[0]!).getByText("here")).toBeTruthy();
    expect(within(rows()[1]!).getByRole("button", { name: "go here" })).toBeTruthy();
  });
  it("goes to any of them", async () => {
    const asked = await shown([state(2, "Limiter added"), state(1, "Project made")]);
    await userEvent.setup().click(screen.getByRole("button", { name: "go here" }));
    await waitFor(() => expect(asked.some(({ method }) => method === "POST")).toBe(true));
    expect(asked.find(({ method }) => method === "POST")!.body).toMatchObject({ to: "state", state: 1 });
  });
  it("undoes, and does not offer to redo where there is nothing", async () => {
    await shown([state(2, "Limiter added"), state(1, "Project made")]);
    expect((screen.getByRole("button", { name: /Undo/ }) as HTMLButtonElement).disabled).toBe(false);
    expect((screen.getByRole("button", { name: /Redo/ }) as HTMLButtonElement).disabled).toBe(true);
  });
  it("names a state: it stands among the versions then", async () => {
    const asked = await shown([
      state(2, "Limiter added", { version_name: "For the client" }),
      state(1, "Project made"),
    ]);
    expect(within(screen.getByLabelText("Versions, newest first")).getByText("For the client")).toBeTruthy();
    const user = userEvent.setup();
    await user.click(within(rows()[1]!).getByRole("button", { name: /name it/ }));
    await user.type(screen.getByLabelText("Name of this version"), "Raw{Enter}");
    await waitFor(() => expect(asked.some(({ method }) => method === "PATCH")).toBe(true));
    expect(asked.find(({ method }) => method === "PATCH")!.body).toEqual({ state: 1, name: "Raw" });
  });
  it("asks nothing where a name was left as it is", async () => {
    const asked = await shown([state(2, "Limiter added"), state(1, "Project made")]);
    const user = userEvent.setup();
    await user.click(within(rows()[0]!).getByRole("button", { name: /name it/ }));
    await user.type(screen.getByLabelText("Name of this version"), "{Enter}");
    expect(asked.some(({ method }) => method === "PATCH")).toBe(false);
  });
  it("reads earlier states when asked, as long as there are any", async () => {
    const asked = await shown(
      [state(3, "Third", { parent: 2 })],
      { "GET projects/p/history?before=3": [state(2, "Second"), state(1, "First")] },
      3,
    );
    await userEvent.setup().click(screen.getByRole("button", { name: "Earlier states" }));
    await waitFor(() => expect(rows()).toHaveLength(3));
    expect(screen.queryByRole("button", { name: "Earlier states" })).toBeNull();
    expect(asked.filter(({ path }) => path.includes("before=")).length).toBe(1);
  });
});
