"use client";

import { formatTime } from "@core/audio/format";
import { Figure } from "@ui/design-system/figure";
import type { ItemFacts } from "@ui/state/current-item";
import { showRange } from "../../state/show-range";

/** Where the floor and the highest peak lie. */
export function LevelPlaces({ facts }: { facts: ItemFacts }) {
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
        const level = figures[figure];
        return (
          <div
            key={figure}
            className="grid h-[26px] grid-cols-[minmax(0,1fr)_84px] items-center gap-2 border-b border-grid"
          >
            <button
              type="button"
              disabled={at === null}
              onClick={() => at !== null && showRange(facts, at - (figure === "noiseFloorDbfs" ? 0 : length), length)}
              title={at === null ? undefined : `At ${formatTime(at, 2)}: select and show`}
              className="truncate text-left text-act hover:underline disabled:text-soft"
            >
              {name}
            </button>
            <Figure level={level} unit={unit} className="text-right" />
          </div>
        );
      })}
      <p className="pt-2 text-label text-soft">
        The floor leaves out digital silence. Loop a place with L and compare with O.
      </p>
    </section>
  );
}
