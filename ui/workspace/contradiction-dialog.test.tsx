import { act, screen, within } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { toast } from "sonner";
import { afterEach, describe, expect, it } from "vitest";
import { newChainEntry } from "@core/processors";
import type { Command } from "@core/project/commands";
import { inWorkspace, PROJECT } from "../../tests/components/current-item";
import { ApiProblem } from "../api/api";
import { keepContradiction, rememberOwnEdit, tellRefusedEdit, useContradictions } from "../api/contradictions";
import { ContradictionDialog } from "./contradiction-dialog";

afterEach(() => useContradictions.setState({ unsettled: [] }));

const entry = { ...newChainEntry("gain", "g"), gainDb: -5 };
const mine = { type: "setParameter", item: "item-1", entry: "g", parameter: "gainDb", setting: 7 } satisfies Command;
const refusal = (made: unknown = [{ label: "Gain −5 dB", author: "Marl" }]) =>
  new ApiProblem(409, "Changed elsewhere", "The same thing was changed.", null, { head: 2, made });
const shown = (command: Command = mine, before = 0) => {
  const workspace = inWorkspace(<ContradictionDialog />, {
    prepare: [{ type: "addProcessor", item: "item-1", entry }],
  });
  act(() => void keepContradiction(refusal(), PROJECT, command, before));
  return workspace;
};
const press = (name: string) => userEvent.setup().click(screen.getByRole("button", { name }));

describe("what was changed by both", () => {
  it("is shown with both values and who made theirs; one's own is made when it is chosen", async () => {
    const { edits } = shown();
    const dialog = within(screen.getByRole("dialog", { name: "Changed by both" }));
    expect(dialog.getByText("Gain −5 dB")).toBeTruthy();
    const row = within(dialog.getByRole("row", { name: /Low Door · Gain/ }));
    expect(row.getAllByRole("cell").map((cell) => cell.textContent)).toEqual(["−5 dB", "7 dB"]);
    expect(edits).toEqual([]);
    await press("Use mine");
    expect(edits).toEqual([mine]);
    expect(screen.queryByRole("dialog")).toBeNull();
  });

  it("stays theirs when that is chosen, or the sheet is closed", async () => {
    const { edits } = shown();
    await press("Keep theirs");
    expect(screen.queryByRole("dialog")).toBeNull();
    act(() => void keepContradiction(refusal(), PROJECT, mine, 0));
    await userEvent.setup().keyboard("{Escape}");
    expect(screen.queryByRole("dialog")).toBeNull();
    expect(edits).toEqual([]);
  });

  it("is not shown before the page has theirs", () => {
    shown(mine, 1);
    expect(screen.queryByRole("dialog")).toBeNull();
  });

  it("says when one's own cannot be made any more, or comes to the same", () => {
    shown({ ...mine, item: "gone" });
    expect(screen.getByText(/Yours cannot be made any more/)).toBeTruthy();
    expect(screen.getByRole<HTMLButtonElement>("button", { name: "Use mine" }).disabled).toBe(true);
    act(() => {
      useContradictions.setState({ unsettled: [] });
      keepContradiction(refusal(), PROJECT, { ...mine, setting: -5 }, 0);
    });
    expect(screen.getByText("Both come to the same.")).toBeTruthy();
  });

  it("is settled by itself, whatever else waits in another project", async () => {
    const elsewhere = "00000000-0000-4000-8000-000000000002";
    keepContradiction(refusal(), elsewhere, mine, 0);
    shown();
    await press("Keep theirs");
    expect(useContradictions.getState().unsettled.map(({ project }) => project)).toEqual([elsewhere]);
  });

  it("is told apart from other refusals", () => {
    for (const error of [new Error("x"), new ApiProblem(409, "a", "b"), new ApiProblem(422, "a", "b"), refusal([])])
      expect(keepContradiction(error, PROJECT, mine, 0)).toBe(false);
    expect(useContradictions.getState().unsettled).toEqual([]);
  });
});

describe("whoever made what stands", () => {
  const refused = { id: "e1", author: "Marl", label: "Gain 7 dB", made: [{ label: "Gain −5 dB", author: "Oriel" }] };
  it("is told what was wanted otherwise, but not of one's own", () => {
    const before = toast.getHistory().length;
    const titles = () =>
      toast
        .getHistory()
        .slice(before)
        .map((one) => ("title" in one ? one.title : ""));
    tellRefusedEdit(refused);
    expect(titles()).toEqual(["Marl changed the same at the same time: Gain 7 dB"]);
    rememberOwnEdit("e1");
    tellRefusedEdit(refused);
    expect(titles()).toHaveLength(1);
  });
});
