"use client";

import { Select } from "@ui/design-system/controls";
import { counted } from "@core/audio/format";
import { useMemo, useState } from "react";
import { canAutomate, automatableOf, processorNamed } from "@core/processors";
import { envelopeAt } from "@core/parameters/breakpoints";
import { automatedParameter } from "@core/processors/automation";
import type { NumberParameter, Breakpoint, Row } from "@core/parameters/parameter";
import { levelsAfter } from "@core/delivery/predict-chain";
import { Button } from "@ui/design-system/button";
import { formatParameter, fromTrack, toTrack } from "@ui/design-system/parameter-scale";
import { useCurrentItem } from "@ui/state/current-item";
import { BreakpointPlot, type PlotAxis } from "./visualisers/breakpoint-plot";
import { AddBreakpoint, BreakpointList } from "./visualisers/breakpoint-list";
import type { EntryEditing } from "./visualisers/use-entry";

/** A setting in words: "Gain", "band b: Frequency". */
function wordsOf(name: string, parameter: NumberParameter): string {
  const [, index] = name.split(".");
  return index === undefined
    ? parameter.label
    : `band ${String.fromCharCode(97 + Number(index))}: ${parameter.label.toLowerCase()}`;
}

/** A gain is drawn to 12 dB on both sides, or as far as it goes; everything else over its whole range. */
const LEAST_REACH_DB = 12;

function rulerOf(parameter: NumberParameter, values: readonly number[]): PlotAxis {
  const isGain = parameter.unit === "dB" && parameter.min < 0 && parameter.max > 0;
  const furthest = Math.max(LEAST_REACH_DB, ...values.map((value) => Math.abs(value) + 3));
  const drawn = isGain
    ? { ...parameter, min: Math.max(parameter.min, -furthest), max: Math.min(parameter.max, furthest) }
    : parameter;
  return { toShare: (value) => toTrack(value, drawn), fromShare: (share) => fromTrack(share, drawn) };
}

/** Settings that follow a line over the item: chosen, drawn, or typed point by point. */
export function AutomationEditor({ inHand }: { inHand: EntryEditing }) {
  const { entry, settings } = inHand;
  const { facts, chain } = useCurrentItem();
  const names = automatableOf(entry);
  const lines = entry.automation ?? {};
  const [chosen, setChosen] = useState(() => Object.keys(lines)[0] ?? "");
  const at = chain.findIndex(({ id }) => id === entry.id);
  const before = useMemo(
    () => facts && levelsAfter(facts.figures, facts.curves, chain.slice(0, Math.max(0, at)), facts.knownLevels),
    [facts, chain, at],
  );
  if (!facts || !before) return null;
  const { parameters, automatable } = processorNamed(entry.type);
  if (automatable && !canAutomate(entry))
    return (
      <p className="mt-1 border-t border-grid px-3 py-1.5 text-label text-soft">
        Nothing of it moves over time while its filters are of linear phase: they are too long to be changed in flight.
      </p>
    );
  if (names.length === 0) return null;
  const parameter = names.includes(chosen) ? automatedParameter(parameters, chosen) : undefined;
  const line: Breakpoint[] = lines[chosen] ?? [];
  const commit = (next: readonly Breakpoint[]) =>
    void inHand.commitLine(
      chosen,
      next.map(([x, y]): [number, number] => [x, y]),
    );
  const [list, index, column] = chosen.split(".");
  const resting = Number(
    column === undefined ? settings[chosen] : (settings[list!] as Row[] | undefined)?.[Number(index)]?.[column],
  );
  const ruler = parameter && rulerOf(parameter, [resting, ...line.map(([, value]) => value)]);
  return (
    <div className="mt-1 border-t border-grid px-3 py-1.5" aria-label="Automation">
      <div className="flex flex-wrap items-center gap-2 pb-1">
        <span>Automation</span>
        <Select
          label="Automated setting"
          value={chosen}
          options={["", ...names]}
          words={(name) =>
            name === ""
              ? "choose a setting"
              : `${wordsOf(name, automatedParameter(parameters, name)!)}${lines[name] ? ` · ${counted(lines[name].length, "point")}` : ""}`
          }
          onChange={setChosen}
          className="h-7"
        />
        <AddBreakpoint
          line={line}
          valueAt={(seconds) => (line.length > 0 ? envelopeAt(line, seconds) : resting)}
          disabled={!parameter}
          onCommit={commit}
        />
        <Button disabled={line.length === 0} onClick={() => commit([])}>
          Remove all points
        </Button>
        <span className="text-label text-soft">
          {parameter
            ? "Click for a point, drag it, Alt click takes it away; it snaps as selections do."
            : "A setting can be automated over the item; without points it stays where it is."}
        </span>
      </div>
      {parameter && ruler && (
        <div className="flex h-[150px] flex-col">
          <BreakpointPlot
            label={`${wordsOf(chosen, parameter)} over time`}
            line={line}
            ruler={ruler}
            resting={resting}
            facts={facts}
            momentaryLufs={before.momentaryLufs}
            words={`${parameter.label.toLowerCase()}, ${formatParameter(ruler.fromShare(0), parameter)} to ${formatParameter(ruler.fromShare(1), parameter)} ${parameter.unit}`}
            onCommit={commit}
          />
        </div>
      )}
      {parameter && <BreakpointList line={line} range={parameter} onCommit={commit} />}
    </div>
  );
}
