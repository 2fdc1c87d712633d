"use client";

import { useState } from "react";
import { tonesSchema } from "@core/repair/hum";
import type { RepairStep } from "@core/repair";
import { formatHertz } from "@core/audio/format";
import { Button } from "@ui/design-system/button";
import { useWorkspace } from "@ui/state/workspace-store";
import type { ChangeStep } from "./change-step";

/** The tones that a step takes away: typed, or the middle of a box on the spectrogram. */
export function ToneList({ step, change }: { step: RepairStep; change: ChangeStep }) {
  const [typed, setTyped] = useState("");
  const band = useWorkspace((workspace) => workspace.selection?.band);
  const tones = tonesSchema.parse(step.learned ?? []);
  const add = (hertz: number) => {
    if (!tonesSchema.element.safeParse(hertz).success || tones.includes(hertz)) return;
    change({ learned: [...tones, Number(hertz.toFixed(1))].sort((a, b) => a - b) }, `tone ${formatHertz(hertz)}`);
    setTyped("");
  };
  const hertzTyped = Number(typed.replace(/k(hz)?$/i, "e3").replace(/\s*hz$/i, ""));
  return (
    <div className="flex flex-wrap items-center gap-1.5 py-1">
      {tones.length === 0 && <span className="text-soft">No tones yet.</span>}
      {tones.map((hertz) => (
        <button
          key={hertz}
          type="button"
          title="Leave this tone alone"
          onClick={() => change({ learned: tones.filter((one) => one !== hertz) }, `without ${formatHertz(hertz)}`)}
          className="figure h-6 rounded-[4px] border border-hair px-2"
        >
          {formatHertz(hertz)} ×
        </button>
      ))}
      <input
        aria-label="Frequency of a tone"
        placeholder="3.15k"
        value={typed}
        onChange={(event) => setTyped(event.target.value)}
        onKeyDown={(event) => event.key === "Enter" && add(hertzTyped)}
        className="figure h-6 w-20 rounded-[4px] border border-hair bg-sheet px-2"
      />
      <Button disabled={!(hertzTyped > 0)} onClick={() => add(hertzTyped)}>
        Add
      </Button>
      <Button
        disabled={!band}
        hint="The middle of the box that is selected on the spectrogram"
        onClick={() => band && add((band.low + band.high) / 2)}
      >
        Add the selected
      </Button>
    </div>
  );
}
