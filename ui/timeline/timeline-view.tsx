"use client";

import { useEffect, useRef, type RefObject } from "react";
import { shareOf, hertzAt } from "@core/spectrogram/frequency-rows";
import { useWorkspace } from "@ui/state/workspace-store";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { GrowingWaveform } from "./growing-waveform";
import { ProvisionalWaveform } from "./provisional-waveform";
import { LaneStack } from "./lane-stack";
import { axisOf } from "./spectrogram-lanes";
import { setSpectrogram, useLanes, type LaneId } from "../state/lane-settings";
import { MarkerFlags } from "./marker-flags";
import { RemarkFlags } from "./remark-flags";
import { Overlay } from "./overlay";
import { OverviewStrip } from "./overview-strip";
import { hasPicture, VideoPicture } from "./video-picture";
import { OthersPlayheads } from "./others-playheads";
import { Playhead } from "./playhead";
import { TimelineToolbar } from "./timeline-toolbar";
import { RegionLabel } from "./region-label";
import { Ruler } from "./ruler";
import { scrolled, secondsAt, windowNow, zoomed } from "../state/time-window";
import { useSelecting } from "./use-selecting";
import { zoomWaveform } from "../state/waveform-height";

const WHEEL_ZOOM = 0.0022;
const FREQUENCY_ZOOM = 0.0015;
/** The narrowest band that a frequency axis shows, in octaves or the like. */
const LEAST_BAND_RATIO = 1.2;

const READING: readonly string[] = ["waiting", "preparing"];

/** All lanes on one time axis, with the window, the selection and the playhead. */
export function TimelineView() {
  const { facts, source, waveform, view } = useCurrentItem();
  // Items come once their recording is read: until there is one, the first that is on its way is shown.
  const reading = [source, ...(source ? [] : view.sources)].find((one) => one && READING.includes(one.state));
  if (!facts && waveform) return <ProvisionalWaveform overview={waveform} />;
  if (!facts && reading) return <GrowingWaveform source={reading} />;
  if (!facts) return <EmptyProgramme reading={source?.state === "ready"} problem={source?.problem ?? null} />;
  return <Lanes key={facts.item.id + facts.source.overview_hash} facts={facts} />;
}

function EmptyProgramme({ reading, problem }: { reading: boolean; problem: string | null }) {
  const text =
    problem ??
    (reading
      ? "The recording is being opened; its waveform appears here."
      : "Drop a recording anywhere on this page to begin.");
  return <div className="flex h-full items-center justify-center px-8 text-center text-soft">{text}</div>;
}

function Lanes({ facts }: { facts: ItemFacts }) {
  const surface = useRef<HTMLDivElement>(null);
  useWheel(surface, facts);
  const picture = useWorkspace((workspace) => workspace.picture);
  const { hint, held, handlers } = useSelecting(facts, surface);
  return (
    <div className="flex h-full min-h-0 flex-col">
      <TimelineToolbar facts={facts} surface={surface} />
      <OverviewStrip facts={facts} />
      <div
        ref={surface}
        role="application"
        aria-label="Programme view: drag to select, click to move the playhead, wheel to zoom"
        data-testid="programme"
        className="relative flex min-h-0 flex-1 touch-none flex-col select-none"
        onContextMenu={(event) => event.preventDefault()}
        onDoubleClick={() => useWorkspace.setState({ view: null })}
      >
        <Ruler facts={facts} />
        <div className="relative flex min-h-0 flex-1 flex-col overflow-hidden" data-testid="lanes" {...handlers}>
          <LaneStack facts={facts} />
          <Overlay facts={facts} held={held} />
          <RegionLabel facts={facts} />
        </div>
        <MarkerFlags facts={facts} />
        <RemarkFlags facts={facts} />
        <OthersPlayheads facts={facts} />
        <Playhead facts={facts} />
        {picture && hasPicture(facts) && <VideoPicture facts={facts} />}
        {hint && (
          <div className="figure pointer-events-none absolute top-8 left-1/2 z-20 -translate-x-1/2 rounded-[4px] border border-hair bg-sheet px-2 py-0.5 text-label whitespace-nowrap">
            {hint}
          </div>
        )}
      </div>
    </div>
  );
}

/** Wheel and pinch: time around the pointer, along it with Shift, height or frequency with Alt. */
function useWheel(surface: RefObject<HTMLDivElement | null>, { duration, sampleRate }: ItemFacts): void {
  useEffect(() => {
    const element = surface.current;
    if (!element) return;
    // Wheel events must be cancelled, which React's own passive listeners cannot do.
    const onWheel = (event: WheelEvent) => {
      event.preventDefault();
      const now = windowNow(duration);
      const width = element.clientWidth;
      if (event.altKey) return zoomHeight(event, sampleRate);
      const perPixel = (now.end - now.start) / width;
      const sideways = event.shiftKey ? event.deltaY || event.deltaX : event.deltaX;
      const next =
        event.shiftKey || Math.abs(event.deltaX) > Math.abs(event.deltaY)
          ? scrolled(now, sideways * perPixel, duration)
          : zoomed(
              now,
              Math.exp(-event.deltaY * WHEEL_ZOOM),
              secondsAt(event.clientX - element.getBoundingClientRect().left, now, width),
              duration,
            );
      useWorkspace.setState({ view: next });
    };
    element.addEventListener("wheel", onWheel, { passive: false });
    return () => element.removeEventListener("wheel", onWheel);
  }, [surface, duration, sampleRate]);
}

/** The waveform taller or lower; over a picture, its frequencies around the pointer. */
function zoomHeight(event: WheelEvent, sampleRate: number): void {
  const lane = (event.target as Element).closest<HTMLElement>("[data-lane]");
  const axis = lane && axisOf(lane.dataset.lane as LaneId, useLanes.getState().picture, sampleRate);
  if (!lane || !axis) return zoomWaveform(event.deltaY < 0 ? 1 : -1);
  const box = lane.getBoundingClientRect();
  const at = 1 - (event.clientY - box.top) / box.height;
  const factor = Math.exp(event.deltaY * FREQUENCY_ZOOM);
  const lowest = shareOf(20, axis);
  const highest = shareOf(sampleRate / 2, axis);
  const low = hertzAt(Math.max(lowest, at - at * factor), axis);
  const high = hertzAt(Math.min(highest, at + (1 - at) * factor), axis);
  if (high / low > LEAST_BAND_RATIO) setSpectrogram({ lowHertz: Math.max(20, low), highHertz: high });
}
