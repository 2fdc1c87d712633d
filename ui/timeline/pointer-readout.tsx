"use client";

import { useEffect, useState, type RefObject } from "react";
import type { TimeSeries } from "@core/measure/measurement";
import { formatDb } from "@core/audio/format";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { hertzOfY } from "./draw-spectrogram";
import { useLanes, type LaneId } from "../state/lane-settings";
import { pictureLevel } from "./picture-levels";
import { axisOf } from "./spectrogram-lanes";
import { hertzLabel } from "../state/selection-region";
import { secondsAt, windowNow } from "../state/time-window";
import { useTimeFormatter } from "../state/use-time-format";

interface Pointer {
  seconds: number;
  /** Over a picture: its frequency there, and its level where that is made. */
  hertz: number | null;
  levelDb: number | null;
}

/** Time, loudness and peak under the pointer; frequency and level over a picture. */
export function PointerReadout({ facts, surface }: { facts: ItemFacts; surface: RefObject<HTMLDivElement | null> }) {
  const [pointer, setPointer] = useState<Pointer | null>(null);
  const words = useTimeFormatter(facts);
  const { duration, sampleRate } = facts;
  const { spec } = useCurrentItem();
  useEffect(() => {
    const element = surface.current;
    if (!element) return;
    const move = (event: PointerEvent) => {
      const { left, width } = element.getBoundingClientRect();
      const lane = (event.target as Element).closest<HTMLElement>("[data-lane]");
      const axis = lane && axisOf(lane.dataset.lane as LaneId, useLanes.getState().picture, sampleRate);
      const box = lane?.getBoundingClientRect();
      const seconds = secondsAt(event.clientX - left, windowNow(duration), width);
      const hertz = axis && box ? hertzOfY(event.clientY - box.top, axis, box.height) : null;
      const levelDb = lane && hertz !== null ? pictureLevel(lane.dataset.lane as LaneId, seconds, hertz) : null;
      setPointer({ seconds, hertz, levelDb });
    };
    const leave = () => setPointer(null);
    element.addEventListener("pointermove", move);
    element.addEventListener("pointerleave", leave);
    return () => {
      element.removeEventListener("pointermove", move);
      element.removeEventListener("pointerleave", leave);
    };
  }, [surface, duration, sampleRate]);
  if (!pointer || pointer.seconds < 0 || pointer.seconds > duration)
    return <p className="ml-auto pr-1 text-soft">{spec ? `against ${spec.name}` : ""}</p>;
  const { shortTermLufs, samplePeakDbfs } = facts.curves;
  const at = (curve: TimeSeries) => curve.values[Math.floor(pointer.seconds / curve.hopSeconds)] ?? -Infinity;
  const view = windowNow(duration);
  return (
    <p className="figure ml-auto truncate pr-1 text-soft" data-testid="reading">
      {words(pointer.seconds, view.end - view.start < 2 ? 4 : 2)} · S {formatDb(at(shortTermLufs))} LUFS · peak{" "}
      {formatDb(at(samplePeakDbfs))} dBFS{pointer.hertz === null ? "" : ` · ${hertzLabel(pointer.hertz)}`}
      {pointer.levelDb === null ? "" : ` ${formatDb(pointer.levelDb)} dBFS`}
    </p>
  );
}
