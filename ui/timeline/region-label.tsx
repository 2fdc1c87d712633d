"use client";

import { useEffect, useMemo, useRef } from "react";
import { curvesOfStretch, figuresOfStretch } from "@core/delivery/predict-chain";
import { formatDb } from "@core/audio/format";
import { stretchLevels } from "@core/measure/stretch-levels";
import { useWorkspace } from "@ui/state/workspace-store";
import { itemFrame } from "@ui/state/item-time";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { useRangeFigures } from "@ui/state/use-range-figures";
import { useSettledSelection } from "@ui/state/use-settled-selection";
import { bandLabel, lengthLabel, type SelectionRegion } from "../state/selection-region";
import { onWindow, windowNow, xOf } from "../state/time-window";

/** What is selected, in words and figures, where it is. */
export function RegionLabel({ facts }: { facts: ItemFacts }) {
  const selection = useWorkspace((workspace) => workspace.selection);
  const others = useWorkspace((workspace) => workspace.otherSelections);
  if (!selection) return null;
  return (
    <>
      {[...others, selection].map((region, index) => (
        <Label key={index} facts={facts} region={region} isMain={region === selection} />
      ))}
    </>
  );
}

function Label({ facts, region, isMain }: { facts: ItemFacts; region: SelectionRegion; isMain: boolean }) {
  const ref = useRef<HTMLDivElement>(null);
  const { duration } = facts;
  useEffect(() => {
    const place = () => {
      const element = ref.current;
      if (!element) return;
      const view = windowNow(duration);
      const share = (seconds: number) => Math.max(0, Math.min(100, xOf(seconds, view, 100)));
      element.style.left = `${share(region.start)}%`;
      element.style.width = `${share(region.end) - share(region.start)}%`;
      // At the side where there is more room.
      element.dataset.side = share(region.start) > 55 ? "right" : "left";
      element.style.visibility = region.end < view.start || region.start > view.end ? "hidden" : "visible";
    };
    place();
    return onWindow(place);
  }, [region, duration]);
  const words = useFigureWords(facts, region, isMain);
  return (
    <div
      ref={ref}
      data-testid={isMain ? "selection" : "selection-other"}
      className="group pointer-events-none absolute inset-y-0"
    >
      <p
        className="figure absolute top-5 left-0.5 rounded-[2px] group-data-[side=right]:right-0.5 group-data-[side=right]:left-auto bg-sheet/90 px-1 text-label leading-3.5 whitespace-nowrap text-act"
        data-testid={isMain ? "selection-figures" : undefined}
      >
        {words}
      </p>
    </div>
  );
}

/** Loudness of shorter stretches cannot be told from momentary values, which reach beyond them. */
const LEAST_TOLD_SECONDS = 3;

/** What the tables of the item tell of a stretch at once; marked where it is not exact. */
function estimateWords({ figures, curves }: ItemFacts, { start, end }: SelectionRegion): string[] {
  const { rmsDbfs, samplePeakDbfs, isExact } = stretchLevels(curves, start, end);
  const about = isExact ? "" : "≈ ";
  const loudness =
    end - start < LEAST_TOLD_SECONDS
      ? []
      : [`≈ ${formatDb(figuresOfStretch(figures, curvesOfStretch(curves, start, end)).integratedLufs)} LUFS`];
  return [
    ...loudness,
    `${about}RMS ${formatDb(rmsDbfs)}`,
    `${about}peak ${formatDb(samplePeakDbfs)} dBFS`,
    "measuring …",
  ];
}

/** Length, band, loudness, true peak, level and floor: from the tables at once, measured a moment later. */
function useFigureWords(facts: ItemFacts, region: SelectionRegion, isMain: boolean): string {
  const { source } = useCurrentItem();
  const settled = useSettledSelection();
  const stretch = useMemo(
    () =>
      isMain && settled !== region
        ? null
        : {
            start: itemFrame(facts, region.start),
            end: itemFrame(facts, region.end),
          },
    [isMain, settled, region, facts],
  );
  const measured = useRangeFigures(source, stretch, facts.item, {
    band: region.band,
    channels: region.channel === undefined ? undefined : [region.channel],
  });
  const isPart = region.band !== undefined || region.channel !== undefined;
  const estimate = useMemo(() => (isPart ? ["being measured"] : estimateWords(facts, region)), [isPart, facts, region]);
  const channel =
    region.channel === undefined ? "" : ` · ${source?.layout?.speakers[region.channel]?.label ?? ""} only`;
  const length = `${lengthLabel(region)}${region.band ? ` · ${bandLabel(region.band)}` : ""}${channel}`;
  if (!measured) return [length, ...estimate].join(" · ");
  const { integratedLufs, truePeakDbtp, rmsDbfs, noiseFloorDbfs } = measured.figures;
  return [
    length,
    `${formatDb(integratedLufs)} LUFS`,
    `TP ${formatDb(truePeakDbtp)}`,
    `RMS ${formatDb(rmsDbfs)}`,
    // Half a second is the least that a floor is measured over.
    ...(noiseFloorDbfs === null ? [] : [`floor ${formatDb(noiseFloorDbfs)} dBFS`]),
  ].join(" · ");
}
