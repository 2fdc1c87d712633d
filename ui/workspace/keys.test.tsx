import { act, fireEvent, screen, waitFor } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { beforeEach, describe, expect, it } from "vitest";
import { useOwnKeys } from "./commands/keys";
import { useWorkspace } from "@ui/state/workspace-store";
import { answering } from "../../tests/components/answers";
import { inWorkspace } from "../../tests/components/current-item";
import { CommandPalette } from "./command-palette";
import { KeysPanel } from "./keys-panel";
import { StageNav } from "./stage-nav";

beforeEach(() => {
  useOwnKeys.setState({ own: {} });
  Element.prototype.scrollIntoView = () => undefined;
});
const workspace = () => useWorkspace.getState();

describe("keys", () => {
  function panel() {
    inWorkspace(<KeysPanel project="p" />);
    act(() => useWorkspace.setState({ dialog: "keys" }));
  }
  const key = (label: string) => screen.getByLabelText(`Key of: ${label}`);
  const someLabel = () =>
    screen
      .getAllByLabelText(/^Key of: /)[0]!
      .getAttribute("aria-label")!
      .replace("Key of: ", "");

  it("are listed with every command, and changed by pressing another", async () => {
    panel();
    const label = someLabel();
    await userEvent.setup().click(key(label));
    expect(key(label).textContent).toBe("press a key");
    fireEvent.keyDown(window, { key: "F8", code: "F8" });
    expect(key(label).textContent).toBe("F8");
    expect(Object.values(useOwnKeys.getState().own)).toContain("f8");
  });
  it("stay as they are at Escape, and are taken away by Delete", async () => {
    panel();
    const label = someLabel();
    const before = key(label).textContent;
    await userEvent.setup().click(key(label));
    fireEvent.keyDown(window, { key: "Escape", code: "Escape" });
    expect(key(label).textContent).toBe(before);
    await userEvent.setup().click(key(label));
    fireEvent.keyDown(window, { key: "Delete", code: "Delete" });
    expect(key(label).textContent).toBe("none");
  });
  it("are as they came when that is wanted", async () => {
    panel();
    const label = someLabel();
    const before = key(label).textContent;
    await userEvent.setup().click(key(label));
    fireEvent.keyDown(window, { key: "F9", code: "F9" });
    await userEvent.setup().click(screen.getByRole("button", { name: "As they came" }));
    expect(key(label).textContent).toBe(before);
    expect(screen.getByRole<HTMLButtonElement>("button", { name: "As they came" }).disabled).toBe(true);
  });
  it("belong to one command at a time", async () => {
    panel();
    const [first, second] = screen.getAllByLabelText(/^Key of: /);
    for (const one of [first!, second!]) {
      await userEvent.setup().click(one);
      fireEvent.keyDown(window, { key: "F7", code: "F7" });
    }
    expect(second!.textContent).toBe("F7");
    expect(first!.textContent).not.toBe("F7");
  });
});

describe("the palette of commands", () => {
  const field = () => screen.getByPlaceholderText(/a few letters/);
  function palette() {
    inWorkspace(<CommandPalette project="p" />);
    act(() => useWorkspace.setState({ dialog: "commands" }));
  }
  it("finds a command by a few letters, does it and closes", async () => {
    palette();
    const user = userEvent.setup();
    await user.type(field(), "stage 6");
    expect(screen.getAllByRole("option").length).toBeGreaterThan(0);
    await user.keyboard("{Enter}");
    expect(workspace().dialog).not.toBe("commands");
  });
  it("finds what is done with masters by the trade's words, and does it", async () => {
    const asked = answering({});
    palette();
    const user = userEvent.setup();
    await user.type(field(), "bounce");
    await user.click(screen.getByRole("option", { name: "Render all masters that changed" }));
    expect(workspace().stage).toBe("deliver");
    await waitFor(() => expect(asked.map(({ path }) => path)).toContainEqual(expect.stringMatching(/masters$/)));
  });
  it("goes to a place that is typed, also from where the playhead is, and selects a stretch", async () => {
    palette();
    const user = userEvent.setup();
    const type = async (text: string, choose: RegExp) => {
      act(() => useWorkspace.setState({ dialog: "commands" }));
      await user.type(field(), text);
      await user.click(screen.getByRole("option", { name: choose }));
    };
    await type("0:01.5", /^Playhead to 0:01\.500/);
    expect(workspace().cursor).toBeCloseTo(1.5, 6);
    await type("+500 ms", /^Playhead to 0:02\.000/);
    expect(workspace().cursor).toBeCloseTo(2, 6);
    await type("5", /^Select from the playhead/);
    expect(workspace().selection).toEqual({ start: 2, end: 5 });
    await type("1 to +2 s", /^Select 0:01\.000 to 0:03\.000/);
    expect(workspace().selection).toEqual({ start: 1, end: 3 });
    // Beyond the end there is nothing.
    await type("1:00", /^Playhead to 0:06/);
    expect(workspace().cursor).toBe(6);
  });
  it("says that nothing is called that", async () => {
    palette();
    await userEvent.setup().type(field(), "xylophone");
    expect(screen.getByText("Nothing is called that.")).toBeTruthy();
  });
});

describe("the stages", () => {
  it("are all open, and one is where you are", async () => {
    inWorkspace(<StageNav />);
    const names = screen
      .getAllByRole("button")
      .slice(0, 6)
      .map((door) => door.textContent.replace(/^\d/, ""));
    expect(names).toEqual(["Intake", "Inspect", "Repair", "Shape", "Sequence", "Deliver"]);
    await userEvent.setup().click(screen.getByText("Repair"));
    expect(workspace().stage).toBe("repair");
    expect(screen.getByText("Repair").closest("button")!.getAttribute("aria-current")).toBe("page");
  });
});
