import { screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { describe, expect, it, vi } from "vitest";
import type { Limit } from "@core/delivery/spec";
import { show } from "../../tests/components/current-item";
import { AddMenu } from "./add-menu";
import { CheckboxField, Select, SelectField } from "./controls";
import { ComplianceMark } from "./compliance-mark";
import { Figure } from "./figure";
import { MarginGauge } from "./margin-gauge";
import { ProgressBar, queueLabel, timeLeft } from "./progress-bar";
import { SheetDialog } from "./sheet-dialog";

describe("marks of compliance", () => {
  it.each([
    ["pass", "inside", "circle"],
    ["marginal", "close", "path"],
    ["fail", "outside", "path"],
    ["unknown", "not known yet", "circle"],
  ] as const)("%s is said as “%s” and has a shape", (status, words, shape) => {
    show(<ComplianceMark status={status} />);
    const mark = screen.getByLabelText(words);
    expect(mark.querySelectorAll(shape)).toHaveLength(1);
  });
  it("differ by shape, not by colour alone", () => {
    const shapes = (["pass", "marginal", "fail", "unknown"] as const).map((status) => {
      const { container, unmount } = show(<ComplianceMark status={status} />);
      const markup = container.querySelector("svg")!.innerHTML;
      unmount();
      return markup;
    });
    expect(new Set(shapes).size).toBe(4);
  });
});

describe("a gauge", () => {
  const limit: Limit = {
    figure: "integratedLufs",
    scope: "item",
    min: -24,
    max: -22,
    marginalWithin: 0.2,
    required: true,
    clause: "a clause",
  };
  const stem = (container: HTMLElement) =>
    Number(
      [...container.querySelectorAll("line")]
        .find((line) => line.getAttribute("stroke-width") === "1.6")!
        .getAttribute("x1"),
    );

  it("says value, unit and margin to readers of the screen", () => {
    show(<MarginGauge figure="integratedLufs" limit={limit} value={-23.4} />);
    const gauge = screen.getByRole("meter");
    expect(gauge.getAttribute("aria-label")).toMatch(/integrated/i);
    expect(gauge.getAttribute("aria-valuetext")).toMatch(/−23\.4 LUFS/);
    expect(Number(gauge.getAttribute("aria-valuenow"))).toBe(-23.4);
  });
  it("moves its stem to the right as the level rises, and never out of the drawing", () => {
    const places = [-60, -24, -23, -22, 0].map((value) => {
      const { container, unmount } = show(<MarginGauge figure="integratedLufs" limit={limit} value={value} />);
      const x = stem(container);
      unmount();
      return x;
    });
    expect(places).toEqual(places.toSorted((a, b) => a - b));
    expect(Math.min(...places)).toBeGreaterThanOrEqual(1);
    expect(Math.max(...places)).toBeLessThanOrEqual(57);
  });
  it("takes the colour of its status", () => {
    const colours = [-23, -22.1, -20].map((value) => {
      const { container, unmount } = show(<MarginGauge figure="integratedLufs" limit={limit} value={value} />);
      const colour = container.querySelector("g")!.getAttribute("class");
      unmount();
      return colour;
    });
    expect(colours).toEqual(["text-inside", "text-close", "text-outside"]);
  });
  it("has no stem where nothing is known, and shows where it was before", () => {
    const { container } = show(<MarginGauge figure="integratedLufs" limit={limit} value={null} before={-25} />);
    expect(container.querySelector("g")).toBeNull();
    expect(container.querySelectorAll("line")).toHaveLength(2);
  });
});

describe("times that are left", () => {
  it.each([
    [null, ""],
    [Number.NaN, ""],
    [0, "about 1 s left"],
    [12.4, "about 12 s left"],
    [89, "about 89 s left"],
    [95, "about 2 min left"],
    [3600, "about 60 min left"],
  ])("%s s are “%s”", (seconds, words) => {
    expect(timeLeft(seconds)).toBe(words);
  });
  it("jobs say their place and when they may be done", () => {
    expect(queueLabel(undefined)).toBe("waiting for a worker");
    expect(queueLabel({ active: true, place: 0, secondsLeft: 4 })).toBe("beginning");
    expect(queueLabel({ active: false, place: 1, secondsLeft: 30 })).toBe("next, about 30 s");
    expect(queueLabel({ active: false, place: 4, secondsLeft: 300 })).toBe("no. 4 waiting, about 5 min");
  });
  it("a bar tells its share and never runs over", () => {
    const { container } = show(<ProgressBar fraction={1.3} label="Rendering" />);
    expect(screen.getByRole("progressbar").getAttribute("aria-label")).toBe("Rendering");
    expect(container.querySelector<HTMLElement>(".bg-act")!.style.width).toBe("100%");
  });
});

describe("choices", () => {
  it("of numbers come back as numbers", async () => {
    const onChoose = vi.fn();
    show(<Select label="Points" value={2048} options={[1024, 2048, 4096]} onChange={onChoose} />);
    await userEvent.setup().selectOptions(screen.getByLabelText("Points"), "4096");
    expect(onChoose).toHaveBeenCalledWith(4096);
  });
  it("keep the order that is given, and take the value", async () => {
    const onChange = vi.fn();
    const options = { "24": "24 bit", "16": "16 bit" };
    show(<SelectField label="Depth" value="24" onChange={onChange} options={options} order={["24", "16"]} />);
    const field = screen.getByLabelText<HTMLSelectElement>("Depth");
    expect([...field.options].map(({ text }) => text)).toEqual(["24 bit", "16 bit"]);
    await userEvent.setup().selectOptions(field, "16 bit");
    expect(onChange).toHaveBeenCalledWith("16");
  });
  it("of yes and no are ticked by their label", async () => {
    const onChange = vi.fn();
    show(<CheckboxField label="Keep silence" checked={false} onChange={onChange} />);
    await userEvent.setup().click(screen.getByText("Keep silence"));
    expect(onChange).toHaveBeenCalledWith(true);
  });
  it("to add are opened by keys, say what each is for, and add by Enter", async () => {
    const onAdd = vi.fn();
    const of = [
      { id: "noise", name: "Noise", help: "Steady noise" },
      { id: "hum", name: "Hum", help: "Mains hum" },
    ];
    show(<AddMenu trigger="Add a repair" className="" of={of} onAdd={onAdd} />);
    const user = userEvent.setup();
    screen.getByText("Add a repair").focus();
    await user.keyboard("{Enter}");
    expect(await screen.findByText("Steady noise")).toBeTruthy();
    await user.keyboard("{ArrowDown}{Enter}");
    expect(onAdd).toHaveBeenCalledWith("hum");
  });
});

describe("figures and sheets", () => {
  it("a figure has a minus sign, its digits and its unit", () => {
    const { container } = show(<Figure level={-23.04} unit="LUFS" digits={2} />);
    expect(container.textContent).toBe("−23.04LUFS");
  });
  it("a figure that is not known is no number", () => {
    const { container } = show(<Figure level={null} unit="LUFS" />);
    expect(container.textContent).not.toMatch(/\d/);
  });
  it("a sheet has its title, and is closed by Escape and by its button", async () => {
    const onClose = vi.fn();
    show(
      <SheetDialog open onClose={onClose} title="History" help="Every state">
        <p>nothing yet</p>
      </SheetDialog>,
    );
    const user = userEvent.setup();
    expect(screen.getByRole("dialog").getAttribute("aria-labelledby")).toBeTruthy();
    await user.keyboard("{Escape}");
    await user.click(screen.getByLabelText("Close"));
    expect(onClose).toHaveBeenCalledTimes(2);
  });
});
