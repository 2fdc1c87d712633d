"use client";

import { Scissors } from "lucide-react";
import { formatTime } from "@core/signal/format";
import { Button } from "@ui/shared/button";
import { Figure } from "@ui/shared/figure";
import { MarginGauge } from "@ui/shared/margin-gauge";
import { useDesk } from "@ui/workspace/desk";
import { useInHand, type ItemFacts } from "@ui/workspace/in-hand";
import { showPlace } from "../inspect/show-place";

/** Which stretch of the recording is used. */
export function UsedStretch({ facts }: { facts: ItemFacts }) {
  const { edit } = useInHand();
  const selection = useDesk((desk) => desk.selection);
  const { item, startSeconds, duration, sampleRate, source } = facts;
  const whole = source.figures?.durationSeconds ?? duration;
  const keepSelection = () => {
    if (!selection) return;
    const start = facts.range.start + Math.round(selection.start * sampleRate);
    const end = Math.min(facts.range.end, facts.range.start + Math.round(selection.end * sampleRate));
    void edit({ type: "setRange", item: item.id, range: { start, end } });
    useDesk.setState({ selection: null, view: null, cursor: 0 });
  };
  const open = () => {
    void edit({ type: "setRange", item: item.id, range: null });
    useDesk.setState({ selection: null, view: null, cursor: 0 });
  };
  return (
    <section className="mt-3">
      <h2 className="border-b border-hair pb-1.5 font-semibold">Head and tail</h2>
      <p className="py-2">
        {item.range
          ? `Used: ${formatTime(startSeconds, 3)} to ${formatTime(startSeconds + duration, 3)} of ${formatTime(whole, 3)}. What lies outside is kept and can be opened again.`
          : `The whole recording is used, ${formatTime(whole, 3)}.`}
      </p>
      <div className="flex flex-wrap gap-1.5">
        <Button
          kind="main"
          onClick={keepSelection}
          disabled={!selection}
          hint="The item becomes the selected stretch, with a fade of 5 ms at each cut; the recording itself is not touched"
        >
          <Scissors size={14} /> Keep only the selection
        </Button>
        <Button onClick={open} disabled={!item.range} hint="Back to the whole recording">
          Open to the whole
        </Button>
      </div>
      <p className="pt-2 text-label text-soft">
        {selection
          ? `Selected: ${formatTime(selection.start, 3)} to ${formatTime(selection.end, 3)}, ${(selection.end - selection.start).toFixed(3)} s.`
          : "Drag in the programme view to select what should stay; the keys , and . set its ends at the playhead while listening."}
      </p>
    </section>
  );
}

/** Where the floor and the highest peak lie. */
export function Places({ facts }: { facts: ItemFacts }) {
  const { spec } = useInHand();
  const { figures } = facts;
  const rows = [
    {
      figure: "noiseFloorDbfs",
      name: "Quietest half second",
      unit: "dBFS",
      at: figures.noiseFloorSeconds,
      length: 0.5,
    },
    { figure: "truePeakDbtp", name: "Highest true peak", unit: "dBTP", at: figures.truePeakSeconds, length: 0.02 },
    { figure: "momentaryMaxLufs", name: "Loudest 400 ms", unit: "LUFS", at: figures.momentaryMaxSeconds, length: 0.4 },
  ] as const;
  return (
    <section className="h-full overflow-y-auto px-4 py-2.5">
      <h2 className="flex justify-between border-b border-hair pb-1.5 font-semibold">
        Places to listen to <span className="font-normal text-soft">select and show</span>
      </h2>
      {rows.map(({ figure, name, unit, at, length }) => {
        const limit = spec?.limits.find((one) => one.figure === figure);
        const level = figures[figure];
        return (
          <div
            key={figure}
            className="grid h-[26px] grid-cols-[minmax(0,1fr)_84px_58px] items-center gap-2 border-b border-grid"
          >
            <button
              type="button"
              disabled={at === null}
              onClick={() => at !== null && showPlace(facts, at - (figure === "noiseFloorDbfs" ? 0 : length), length)}
              title={at === null ? undefined : `At ${formatTime(at, 2)}: select and show`}
              className="truncate text-left text-act hover:underline disabled:text-soft"
            >
              {name}
            </button>
            <Figure level={level} unit={unit} className="text-right" />
            <MarginGauge figure={figure} limit={limit} value={level} />
          </div>
        );
      })}
      <p className="pt-2 text-label text-soft">
        The floor leaves out digital silence. Loop a place with L and compare with O.
      </p>
    </section>
  );
}
