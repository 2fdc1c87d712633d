import { act, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { useWorkspace } from "../state/workspace-store";
import { keyWords, ShownInput } from "./shown-input";

const key = (name: string, held: object = {}) =>
  keyWords({ key: name, ctrlKey: false, shiftKey: false, altKey: false, metaKey: false, ...held });

beforeEach(() => void vi.useFakeTimers());
afterEach(() => {
  vi.useRealTimers();
  useWorkspace.setState({ showsInput: false });
});

describe("keys in words", () => {
  it.each([
    ["z", { ctrlKey: true, shiftKey: true }, "Ctrl Shift Z"],
    ["s", {}, "S"],
    [" ", {}, "Space"],
    ["ArrowLeft", { altKey: true }, "Alt ←"],
    ["?", { shiftKey: true }, "?"],
    ["F8", { shiftKey: true }, "Shift F8"],
  ] as const)("%s with %o is %s", (name, held, words) => expect(key(name, held)).toBe(words));
  it("are none while a modifier is pressed alone", () => expect(key("Shift", { shiftKey: true })).toBeNull());
});

describe("what is shown for teaching", () => {
  it("is nothing unless it is switched on", () => {
    render(<ShownInput />);
    fireEvent.keyDown(document.body, { key: "s" });
    expect(screen.queryByTestId("shown-input")).toBeNull();
  });

  it("is each key and each click while it is made, and gone a moment after", () => {
    useWorkspace.setState({ showsInput: true });
    render(<ShownInput />);
    const shown = screen.getByTestId("shown-input");
    fireEvent.keyDown(document.body, { key: "s" });
    fireEvent.pointerDown(document.body, { clientX: 120, clientY: 80 });
    expect(shown.textContent).toBe("S");
    expect(shown.querySelectorAll("span")).toHaveLength(1);
    act(() => void vi.advanceTimersByTime(700));
    expect(shown.querySelectorAll("span")).toHaveLength(0);
    expect(shown.textContent).toBe("S");
    act(() => void vi.advanceTimersByTime(1200));
    expect(shown.textContent).toBe("");
  });

  it("is not what is typed into a field for a secret", () => {
    useWorkspace.setState({ showsInput: true });
    render(
      <>
        <input type="password" aria-label="secret" />
        <ShownInput />
      </>,
    );
    fireEvent.keyDown(screen.getByLabelText("secret"), { key: "x" });
    expect(screen.getByTestId("shown-input").textContent).toBe("");
  });
});
