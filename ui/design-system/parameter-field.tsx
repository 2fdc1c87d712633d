import type { Parameter, Setting } from "@core/parameters/parameter";
import { Select } from "./controls";
import { NumberField } from "./number-field";

/** Whatever a person can set, by what its definition says of it. */
export function ParameterField({
  id,
  parameter,
  setting,
  onMove,
  onCommit,
}: {
  id: string;
  parameter: Parameter;
  setting: Setting;
  /** While it moves; nothing is kept yet. */
  onMove: (setting: number) => void;
  onCommit: (setting: Setting) => void;
}) {
  switch (parameter.kind) {
    case "switch":
      return (
        <label className="flex items-center gap-2 py-1" title={parameter.help}>
          <input
            type="checkbox"
            className="size-4 accent-act"
            checked={Boolean(setting)}
            onChange={(event) => onCommit(event.target.checked)}
          />
          <span className="shrink-0">{parameter.label}</span>
          <span className="min-w-0 truncate text-label text-soft">{parameter.help}</span>
        </label>
      );
    case "choice":
      return (
        <div className="flex items-center gap-3 py-1" title={parameter.help}>
          <span className="shrink-0">{parameter.label}</span>
          <Select
            label={parameter.label}
            value={typeof setting === "string" ? setting : ""}
            options={parameter.options.map(({ value }) => value)}
            words={(value) => parameter.options.find((option) => option.value === value)?.label ?? value}
            onChange={onCommit}
          />
          <span className="min-w-0 truncate text-label text-soft">{parameter.help}</span>
        </div>
      );
    case "number":
      return (
        <NumberField id={id} parameter={parameter} setting={Number(setting)} onMove={onMove} onCommit={onCommit} />
      );
    // Those have editors of their own.
    case "points":
    case "rows":
      return null;
  }
}
