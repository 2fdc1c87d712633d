"use client";

import { useState, type KeyboardEvent } from "react";
import type { NumberParameter } from "@core/parameters/parameter";
import { formatParameter, fromTrack, nudge, parseTyped, toTrack } from "./parameter-scale";
import { Hint } from "./hint";

interface Props {
  parameter: NumberParameter;
  setting: number;
  /** While it moves: heard at once, not yet kept. */
  onMove: (setting: number) => void;
  /** Kept. */
  onCommit: (setting: number) => void;
  /** Where the shown setting and the kept one may part: the slider is let go without a change. */
  id: string;
}

/** A number that a person sets: dragged, typed with its unit, nudged by arrows, reset by a double click. */
export function NumberField({ parameter, setting, onMove, onCommit, id }: Props) {
  const [typed, setTyped] = useState<string | null>(null);
  const commitTyped = () => {
    if (typed === null) return;
    const parsed = parseTyped(typed, parameter);
    setTyped(null);
    if (parsed !== null && parsed !== setting) onCommit(parsed);
  };
  const onKeyDown = (event: KeyboardEvent<HTMLInputElement>) => {
    // Leaving the field keeps what was typed, and gives the keys back to the workspace.
    if (event.key === "Enter") event.currentTarget.blur();
    else if (event.key === "Escape") setTyped(null);
    else if (event.key === "ArrowUp" || event.key === "ArrowDown") {
      event.preventDefault();
      setTyped(null);
      onCommit(
        nudge(
          setting,
          parameter,
          event.key === "ArrowUp" ? 1 : -1,
          event.shiftKey ? "coarse" : event.altKey ? "fine" : "step",
        ),
      );
    }
  };
  return (
    <div className="grid grid-cols-[92px_1fr_104px] items-center gap-3 py-1">
      <Hint
        text={`${parameter.help}, ${formatParameter(parameter.min, parameter)} to ${formatParameter(parameter.max, parameter)} ${parameter.unit}`}
      >
        <label htmlFor={id} className="truncate">
          {parameter.label}
        </label>
      </Hint>
      <input
        type="range"
        aria-label={`${parameter.label}, slider`}
        className="h-4 w-full accent-act"
        min={0}
        max={1000}
        step={1}
        value={toTrack(setting, parameter) * 1000}
        onChange={(event) => onMove(fromTrack(Number(event.target.value) / 1000, parameter))}
        onPointerUp={() => onCommit(setting)}
        onKeyUp={(event) => event.key.startsWith("Arrow") && onCommit(setting)}
        onDoubleClick={() => onCommit(parameter.default)}
      />
      <div className="flex h-7 items-center rounded-[4px] border border-hair bg-sheet focus-within:border-act">
        <input
          id={id}
          inputMode="decimal"
          className="figure w-full min-w-0 bg-transparent px-2 text-right outline-none"
          value={typed ?? formatParameter(setting, parameter)}
          onFocus={(event) => event.target.select()}
          onChange={(event) => setTyped(event.target.value)}
          onBlur={commitTyped}
          onKeyDown={onKeyDown}
          onDoubleClick={() => onCommit(parameter.default)}
        />
        <span className="pr-2 text-label whitespace-nowrap text-soft">{parameter.unit}</span>
      </div>
    </div>
  );
}
