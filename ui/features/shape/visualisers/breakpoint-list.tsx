"use client";

import type { Breakpoint } from "@core/parameters/parameter";
import { Button } from "@ui/design-system/button";
import { NumberInput } from "@ui/design-system/number-input";
import { useWorkspace } from "@ui/state/workspace-store";

/** More than these are not typed one by one: the view is narrowed first. */
const MOST_TYPED = 40;

const withPoint = (line: readonly Breakpoint[], point: Breakpoint): Breakpoint[] =>
  [...line.filter(([seconds]) => seconds !== point[0]), point].sort(([a], [b]) => a - b);

/** Sets a point of a line where the playhead stands, by its value there. */
export function AddBreakpoint({
  line,
  valueAt,
  disabled = false,
  onCommit,
}: {
  line: readonly Breakpoint[];
  valueAt: (seconds: number) => number;
  disabled?: boolean;
  onCommit: (line: Breakpoint[]) => void;
}) {
  const set = () => {
    const { cursor } = useWorkspace.getState();
    onCommit(withPoint(line, [cursor, valueAt(cursor)]));
  };
  return (
    <Button
      disabled={disabled}
      hint="A point where the playhead stands, at the value as it is; its numbers can be typed below"
      onClick={set}
    >
      Point at the playhead
    </Button>
  );
}

/** The points of a line that are in view, as numbers. */
export function BreakpointList({
  line,
  range,
  onCommit,
}: {
  line: readonly Breakpoint[];
  /** Of the values. */
  range: { min: number; max: number; unit: string };
  onCommit: (line: Breakpoint[]) => void;
}) {
  const view = useWorkspace((workspace) => workspace.view);
  const set = (index: number, point: Breakpoint) =>
    onCommit(line.map((one, i) => (i === index ? point : one)).sort(([a], [b]) => a - b));
  const shown = line
    .map((point, index) => ({ point, index }))
    .filter(({ point: [seconds] }) => !view || (seconds >= view.start && seconds <= view.end));
  if (shown.length > MOST_TYPED)
    return (
      <p className="text-label text-soft">
        {shown.length} points are in view: go nearer, to {MOST_TYPED} or fewer, to type them.
      </p>
    );
  return (
    <ol className="grid max-h-24 grid-cols-[repeat(auto-fill,minmax(150px,1fr))] gap-x-3 overflow-y-auto text-label">
      {shown.map(({ point: [seconds, value], index }) => (
        <li key={index} className="flex items-center gap-1">
          <NumberInput
            label={`Time of point ${index + 1}`}
            value={seconds}
            unit="s"
            onCommit={(next) => set(index, [Math.max(0, next), value])}
          />
          <NumberInput
            label={`Value of point ${index + 1}`}
            value={value}
            unit={range.unit}
            onCommit={(next) => set(index, [seconds, Math.max(range.min, Math.min(range.max, next))])}
          />
        </li>
      ))}
    </ol>
  );
}
