import { fireEvent, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { useState } from "react";
import { describe, expect, it, vi } from "vitest";
import type { NumberParameter } from "@core/parameters/parameter";
import { processorNamed } from "@core/processors";
import { show } from "../../tests/components/current-item";
import { NumberField } from "./number-field";
import { NumberInput } from "./number-input";
import { ParameterField } from "./parameter-field";

const GAIN: NumberParameter = {
  kind: "number",
  label: "Gain",
  help: "How much louder",
  unit: "dB",
  min: -24,
  max: 24,
  step: 0.1,
  scale: "linear",
  default: 0,
};

function Held({ onCommit, parameter = GAIN }: { onCommit: (value: number) => void; parameter?: NumberParameter }) {
  const [setting, setSetting] = useState(parameter.default);
  const commit = (value: number) => {
    setSetting(value);
    onCommit(value);
  };
  return <NumberField id="gain" parameter={parameter} setting={setting} onMove={setSetting} onCommit={commit} />;
}

describe("a number field", () => {
  const typed = () => screen.getByLabelText<HTMLInputElement>("Gain");

  it.each([
    ["-3", -3],
    ["−3.5 dB", -3.5],
    ["4,5", 4.5],
    ["100", 24],
    ["-100db", -24],
  ])("takes %s for %f", async (text, expected) => {
    const onCommit = vi.fn();
    show(<Held onCommit={onCommit} />);
    const user = userEvent.setup();
    await user.clear(typed());
    await user.type(typed(), `${text}{Enter}`);
    expect(onCommit).toHaveBeenLastCalledWith(expected);
  });

  it.each(["", "loud", "1e", "--3"])("keeps what was there instead of %j", async (text) => {
    const onCommit = vi.fn();
    show(<Held onCommit={onCommit} />);
    const user = userEvent.setup();
    await user.clear(typed());
    if (text) await user.type(typed(), text);
    await user.tab();
    expect(onCommit).not.toHaveBeenCalled();
    expect(typed().value).toBe("0.0");
  });

  it("gives up what was typed with Escape", async () => {
    const onCommit = vi.fn();
    show(<Held onCommit={onCommit} />);
    const user = userEvent.setup();
    await user.type(typed(), "7{Escape}");
    await user.tab();
    expect(onCommit).not.toHaveBeenCalled();
  });

  it.each([
    ["{ArrowUp}", 0.1],
    ["{ArrowDown}", -0.1],
    ["{Shift>}{ArrowUp}{/Shift}", 1],
    ["{Alt>}{ArrowDown}{/Alt}", -0.01],
  ])("is nudged by %s", async (keys, expected) => {
    const onCommit = vi.fn();
    show(<Held onCommit={onCommit} />);
    const user = userEvent.setup();
    await user.click(typed());
    await user.keyboard(keys);
    expect(onCommit).toHaveBeenLastCalledWith(expected);
  });

  it("goes back to its default by a double click, and stays within its range by keys", async () => {
    const onCommit = vi.fn();
    show(<Held onCommit={onCommit} />);
    const user = userEvent.setup();
    await user.click(typed());
    for (let press = 0; press < 30; press++) await user.keyboard("{Shift>}{ArrowUp}{/Shift}");
    expect(onCommit).toHaveBeenLastCalledWith(24);
    await user.dblClick(typed());
    expect(onCommit).toHaveBeenLastCalledWith(0);
  });

  it("is heard while the slider moves, and kept when it is let go", () => {
    const [onMove, onCommit] = [vi.fn(), vi.fn()];
    show(<NumberField id="gain" parameter={GAIN} setting={0} onMove={onMove} onCommit={onCommit} />);
    const slider = screen.getByRole("slider");
    fireEvent.change(slider, { target: { value: "750" } });
    expect(onMove).toHaveBeenCalledWith(12);
    expect(onCommit).not.toHaveBeenCalled();
    fireEvent.pointerUp(slider);
    expect(onCommit).toHaveBeenCalledOnce();
  });

  it("takes seconds where milliseconds are meant, and thousands by k", async () => {
    const onCommit = vi.fn();
    const release = {
      ...GAIN,
      label: "Gain",
      unit: "ms",
      min: 1,
      max: 20_000,
      step: 1,
      scale: "log" as const,
      default: 100,
    };
    show(<Held onCommit={onCommit} parameter={release} />);
    const user = userEvent.setup();
    await user.clear(typed());
    await user.type(typed(), "0.2 s{Enter}");
    expect(onCommit).toHaveBeenLastCalledWith(200);
    await user.clear(typed());
    await user.type(typed(), "3k{Enter}");
    expect(onCommit).toHaveBeenLastCalledWith(3000);
  });
});

describe("a bare number", () => {
  it("is kept by Enter or by leaving it, once, and only if it changed", async () => {
    const onCommit = vi.fn();
    show(<NumberInput label="Gain of the point" value={-3} unit="dB" onCommit={onCommit} />);
    const field = screen.getByLabelText<HTMLInputElement>("Gain of the point");
    expect(field.value).toBe("−3");
    const user = userEvent.setup();
    await user.clear(field);
    await user.type(field, "−4,5{Enter}");
    expect(onCommit.mock.calls).toEqual([[-4.5]]);
    await user.clear(field);
    await user.type(field, "-3");
    await user.tab();
    expect(onCommit).toHaveBeenCalledOnce();
  });
  it.each(["", "  ", "x", "Infinity"])("gives up %j", async (text) => {
    const onCommit = vi.fn();
    show(<NumberInput label="Gain" value={1} unit="dB" onCommit={onCommit} />);
    const user = userEvent.setup();
    await user.clear(screen.getByLabelText("Gain"));
    if (text) await user.type(screen.getByLabelText("Gain"), text);
    await user.tab();
    expect(onCommit).not.toHaveBeenCalled();
  });
});

describe("a parameter", () => {
  it("has a field of its kind in every form, with its label and its help", () => {
    const { parameters } = processorNamed("compressor");
    for (const [name, parameter] of Object.entries(parameters)) {
      const { container, unmount } = show(
        <ParameterField id={name} parameter={parameter} setting={0} onMove={vi.fn()} onCommit={vi.fn()} />,
      );
      expect(container.textContent).toContain(parameter.label);
      expect(container.querySelectorAll("input, select").length).toBeGreaterThan(0);
      unmount();
    }
  });
  it("that is a choice is chosen by its words and kept by its value", async () => {
    const onCommit = vi.fn();
    const choice = {
      kind: "choice" as const,
      label: "Detector",
      help: "What it follows",
      options: [
        { value: "peak", label: "peak" },
        { value: "rms", label: "RMS" },
      ],
      default: "peak",
    };
    show(<ParameterField id="detector" parameter={choice} setting="peak" onMove={vi.fn()} onCommit={onCommit} />);
    await userEvent.setup().selectOptions(screen.getByLabelText("Detector"), "RMS");
    expect(onCommit).toHaveBeenCalledWith("rms");
  });
  it("that is a switch is on or off", async () => {
    const onCommit = vi.fn();
    const parameter = { kind: "switch" as const, label: "Auto release", help: "Follows the sound", default: false };
    show(<ParameterField id="auto" parameter={parameter} setting={false} onMove={vi.fn()} onCommit={onCommit} />);
    await userEvent.setup().click(screen.getByRole("checkbox"));
    expect(onCommit).toHaveBeenCalledWith(true);
  });
});
