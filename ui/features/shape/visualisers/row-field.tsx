"use client";

import { useState } from "react";
import type { RowsParameter } from "@core/parameters/parameter";
import { Select } from "@ui/design-system/controls";
import { formatParameter, nudge, parseTyped } from "@ui/design-system/parameter-scale";

type Column = RowsParameter["columns"][string];
type Value = number | boolean | string;

/** One setting of a row, in little space: typed, nudged by arrow keys, or chosen. */
export function RowField({
  parameter,
  setting,
  onCommit,
}: {
  parameter: Column;
  setting: Value;
  onCommit: (setting: Value) => void;
}) {
  return (
    <label className="grid grid-cols-[1fr_auto] items-center gap-2 py-0.5 text-label" title={parameter.help}>
      <span className="text-soft">{parameter.label}</span>
      {parameter.kind === "switch" ? (
        <input
          type="checkbox"
          className="accent-act"
          checked={Boolean(setting)}
          onChange={(event) => onCommit(event.target.checked)}
        />
      ) : parameter.kind === "choice" ? (
        <Select
          label={parameter.label}
          value={String(setting)}
          options={parameter.options.map(({ value }) => value)}
          words={(value) => parameter.options.find((one) => one.value === value)!.label}
          onChange={onCommit}
          className="h-6"
        />
      ) : (
        <Typed parameter={parameter} setting={Number(setting)} onCommit={onCommit} />
      )}
    </label>
  );
}

function Typed({
  parameter,
  setting,
  onCommit,
}: {
  parameter: Extract<Column, { kind: "number" }>;
  setting: number;
  onCommit: (setting: number) => void;
}) {
  const [typed, setTyped] = useState<string | null>(null);
  const commit = () => {
    const parsed = typed === null ? null : parseTyped(typed, parameter);
    setTyped(null);
    if (parsed !== null && parsed !== setting) onCommit(parsed);
  };
  return (
    <span className="flex h-6 w-[104px] items-center rounded-[4px] border border-hair bg-sheet focus-within:border-act">
      <input
        inputMode="decimal"
        className="figure w-full min-w-0 bg-transparent px-1.5 text-right outline-none"
        value={typed ?? formatParameter(setting, parameter)}
        onFocus={(event) => event.target.select()}
        onChange={(event) => setTyped(event.target.value)}
        onBlur={commit}
        onDoubleClick={() => onCommit(parameter.default)}
        onKeyDown={(event) => {
          if (event.key === "Enter") event.currentTarget.blur();
          else if (event.key === "Escape") setTyped(null);
          else if (event.key === "ArrowUp" || event.key === "ArrowDown") {
            event.preventDefault();
            setTyped(null);
            const size = event.shiftKey ? "coarse" : event.altKey ? "fine" : "step";
            onCommit(nudge(setting, parameter, event.key === "ArrowUp" ? 1 : -1, size));
          }
        }}
      />
      <span className="pr-1.5 whitespace-nowrap text-soft">{parameter.unit}</span>
    </span>
  );
}
