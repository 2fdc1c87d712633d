"use client";

import { useEffect, useMemo, useRef } from "react";
import { curvesOfStretch, figuresOfStretch } from "@core/delivery/predict-chain";
import { formatDb } from "@core/audio/format";
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

/** Length, band, loudness, true peak, level and floor: from the curves at once, measured a moment later. */
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
  const measured = useRangeFigures(source, stretch, facts.item, { band: region.band, channel: region.channel });
  const estimate = useMemo(() => {
    if (region.band || region.channel !== undefined) return null;
    return figuresOfStretch(facts.figures, curvesOfStretch(facts.curves, region.start, region.end));
  }, [facts, region]);
  const figures = measured?.figures ?? estimate;
  const channel =
    region.channel === undefined ? "" : ` · ${source?.layout?.speakers[region.channel]?.label ?? ""} only`;
  const parts = [`${lengthLabel(region)}${region.band ? ` · ${bandLabel(region.band)}` : ""}${channel}`];
  if (!figures) return `${parts[0]} · being measured`;
  parts.push(
    `${formatDb(figures.integratedLufs)} LUFS`,
    `TP ${formatDb(figures.truePeakDbtp)}`,
    ...(measured ? [`RMS ${formatDb(figures.rmsDbfs)}`] : []),
    // Half a second is the least that a floor is measured over.
    ...(measured && figures.noiseFloorDbfs !== null ? [`floor ${formatDb(figures.noiseFloorDbfs)} dBFS`] : []),
  );
  return parts.join(" · ");
}
