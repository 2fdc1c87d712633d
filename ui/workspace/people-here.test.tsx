import { act, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { afterEach, describe, expect, it, vi } from "vitest";
import type { Presence } from "@core/people/presence";
import { answering } from "../../tests/components/answers";
import { inWorkspace, PROJECT } from "../../tests/components/current-item";
import { receivePresence, PAGE, usePresence } from "../api/presence";
import { useWorkspace } from "../state/workspace-store";
import { PeopleHere } from "./people-here";

afterEach(() => {
  vi.unstubAllGlobals();
  usePresence.setState({ others: {}, followed: null });
});

const at = (more: Partial<Presence> = {}): Presence => ({
  ...{ name: "Marl", page: "page-of-marl", stage: "shape", item: "item-1", seconds: 2, playing: false },
  ...{ selection: null, view: null, asks: false, leaves: false },
  ...more,
});
const told = (presence: Presence) => act(() => receivePresence(presence));

describe("who else is here", () => {
  it("is asked when the page opens, and shown with where they are until they leave", async () => {
    const asked = answering({});
    inWorkspace(<PeopleHere />);
    expect(asked[0]).toMatchObject({ method: "POST", path: `projects/${PROJECT}/presence`, body: { asks: true } });
    expect(screen.queryByRole("list")).toBeNull();
    told(at({ page: PAGE }));
    expect(screen.queryByRole("list")).toBeNull(); // oneself
    told(at({ playing: true }));
    const marl = screen.getByRole("button", { name: /Marl/ });
    expect(marl.textContent).toContain("shape · Low Door");
    expect(screen.getByLabelText("listens")).toBeTruthy();
    told(at({ leaves: true }));
    expect(screen.queryByRole("list")).toBeNull();
  });

  it("is gone along with when pressed: stage, selection, window; not to where there is nothing", async () => {
    answering({});
    inWorkspace(<PeopleHere />);
    told(at());
    await userEvent.setup().click(screen.getByRole("button", { name: /Marl/ }));
    told(at({ stage: "repair", selection: { start: 1, end: 2 }, view: { start: 0.5, end: 3 }, seconds: 1.5 }));
    expect(useWorkspace.getState()).toMatchObject({
      ...{ stage: "repair", cursor: 1.5, view: { start: 0.5, end: 3 } },
      selection: { start: 1, end: 2 },
    });
    told(at({ stage: "nowhere", seconds: 3 }));
    expect(useWorkspace.getState().stage).toBe("repair");
    told(at({ stage: "deliver", view: { start: 9, end: 1 } }));
    expect(useWorkspace.getState()).toMatchObject({ stage: "deliver", view: null });
    await userEvent.setup().click(screen.getByRole("button", { name: /Marl/ }));
    told(at({ stage: "intake" }));
    expect(useWorkspace.getState().stage).toBe("deliver");
  });
});
