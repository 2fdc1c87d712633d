"use client";

import { useRef, useState, type PointerEvent, type RefObject } from "react";
import { useWorkspace } from "@ui/state/workspace-store";
import type { ItemFacts } from "@ui/state/current-item";
import { itemFrame } from "@ui/state/item-time";
import { engine } from "@ui/state/listening-engine";
import { hertzOfY } from "./draw-spectrogram";
import { axisOf } from "./spectrogram-lanes";
import { useLanes, type LaneId } from "../state/lane-settings";
import { bandLabel, lengthLabel, regionOfOutline, type SelectionRegion } from "../state/selection-region";
import { snapTime } from "./snap-time";
import { zeroCrossing } from "./snapping";
import { around, secondsAt, windowNow } from "../state/time-window";
import { useTimeContext, useTimeFormatter } from "../state/use-time-format";

/** Pixels that a pointer must move before a click becomes a drag. */
const DRAG_PIXELS = 3;
/** An edge moves by this at most to a zero crossing. */
const ZERO_SECONDS = 0.005;
/** Corners of a shape drawn by hand, at most. */
const MOST_CORNERS = 400;
const RIGHT = 2;

interface Drag {
  x: number;
  moved: boolean;
  /** The edge that stays, seconds. */
  fixed: number;
  /** Zooms to what was dragged over, instead of selecting it. */
  zooms: boolean;
  /** Kept beside those there are. */
  adds: boolean;
  hertz: number | null;
  channel: number | undefined;
  outline: { seconds: number; hertz: number }[];
}

/** What a drag over the lanes does: selects in time, in time × frequency, or by hand; zooms with the other button. */
export function useSelecting(facts: ItemFacts, surface: RefObject<HTMLDivElement | null>) {
  const { duration, sampleRate, source } = facts;
  const time = useTimeContext(facts);
  const words = useTimeFormatter(facts);
  const drag = useRef<Drag | null>(null);
  const [hint, setHint] = useState<string | null>(null);
  const [held, setHeld] = useState<SelectionRegion | null>(null);

  const secondsOf = (event: PointerEvent) => {
    const box = surface.current!.getBoundingClientRect();
    return Math.max(0, Math.min(duration, secondsAt(event.clientX - box.left, windowNow(duration), box.width)));
  };
  const hertzOf = (event: PointerEvent): number | null => {
    const lane = laneUnder(event);
    const axis = lane && axisOf(lane.dataset.lane as LaneId, useLanes.getState().picture, sampleRate);
    if (!lane || !axis) return null;
    const box = lane.getBoundingClientRect();
    return hertzOfY(event.clientY - box.top, axis, box.height);
  };
  const channelOf = (event: PointerEvent): number | undefined => {
    const lane = laneUnder(event);
    if (!useWorkspace.getState().oneChannel || lane?.dataset.lane !== "waveform") return undefined;
    const box = lane.getBoundingClientRect();
    const channels = source.layout?.speakers.length ?? 1;
    return Math.max(0, Math.min(channels - 1, Math.floor(((event.clientY - box.top) / box.height) * channels)));
  };
  const snap = (seconds: number, event: PointerEvent): number =>
    event.altKey ? seconds : snapTime(facts, time, seconds, surface.current!.clientWidth);
  const regionOf = (now: Drag, event: PointerEvent): SelectionRegion => {
    const { tool } = useWorkspace.getState();
    const seconds = snap(secondsOf(event), event);
    const hertz = hertzOf(event);
    if (tool === "freehand" && now.outline.length > 2) return regionOfOutline(now.outline);
    const band =
      tool === "box" && now.hertz !== null && hertz !== null
        ? { low: Math.min(now.hertz, hertz), high: Math.max(now.hertz, hertz) }
        : undefined;
    return {
      start: Math.min(now.fixed, seconds),
      end: Math.max(now.fixed, seconds),
      ...(band ? { band } : {}),
      ...(now.channel === undefined ? {} : { channel: now.channel }),
    };
  };

  const onPointerDown = (event: PointerEvent) => {
    if (event.button !== 0 && event.button !== RIGHT) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    const seconds = secondsOf(event);
    const { selection, cursor } = useWorkspace.getState();
    const nearStart = selection && Math.abs(seconds - selection.start) < Math.abs(seconds - selection.end);
    const far = nearStart ? selection.end : selection?.start;
    const hertz = hertzOf(event);
    drag.current = {
      x: event.clientX,
      moved: false,
      fixed: event.shiftKey ? (far ?? cursor) : snap(seconds, event),
      zooms: event.button === RIGHT,
      adds: event.ctrlKey || event.metaKey,
      hertz,
      channel: channelOf(event),
      outline: hertz === null ? [] : [{ seconds, hertz }],
    };
    if (!event.shiftKey) return;
    drag.current.moved = true;
    setHeld(regionOf(drag.current, event));
  };
  const onPointerMove = (event: PointerEvent) => {
    const now = drag.current;
    if (!now || (!now.moved && Math.abs(event.clientX - now.x) < DRAG_PIXELS)) return;
    now.moved = true;
    const hertz = hertzOf(event);
    if (hertz !== null && now.outline.length > 0 && now.outline.length < MOST_CORNERS)
      now.outline.push({ seconds: secondsOf(event), hertz });
    const region = regionOf(now, event);
    setHeld(region);
    const band = region.band ? ` · ${bandLabel(region.band)}` : "";
    setHint(
      `${words(region.start)} – ${words(region.end)} · ${lengthLabel(region)}${band} · ` +
        (now.zooms
          ? "let go: this fills the window"
          : "Alt: do not snap · Shift at the start: from the nearer end · Ctrl: beside the others"),
    );
  };
  const onPointerUp = (event: PointerEvent) => {
    const now = drag.current;
    drag.current = null;
    setHint(null);
    setHeld(null);
    if (!now) return;
    if (!now.moved) {
      if (event.button !== 0) return;
      const seconds = secondsOf(event);
      useWorkspace.setState({ cursor: seconds, selection: null, otherSelections: [] });
      engine().seek(itemFrame(facts, seconds));
      return;
    }
    const region = regionOf(now, event);
    if (region.end <= region.start) return;
    if (now.zooms) return useWorkspace.setState({ view: around(region, duration) });
    const { selection, otherSelections } = useWorkspace.getState();
    useWorkspace.setState({
      selection: region,
      otherSelections: now.adds && selection ? [...otherSelections, selection] : [],
    });
    if (useLanes.getState().snap.zero && !region.outline) void settleOnZero(facts, region);
  };
  const onPointerCancel = () => {
    drag.current = null;
    setHint(null);
    setHeld(null);
  };
  return { hint, held, handlers: { onPointerDown, onPointerMove, onPointerUp, onPointerCancel } };
}

function laneUnder(event: PointerEvent): HTMLElement | null {
  const over = document.elementsFromPoint(event.clientX, event.clientY);
  return over.map((element) => element.closest<HTMLElement>("[data-lane]")).find(Boolean) ?? null;
}

/** Moves the edges of a selection to the nearest zero crossings of its channel, or of the first. */
async function settleOnZero(facts: ItemFacts, region: SelectionRegion): Promise<void> {
  const { overview, sampleRate } = facts;
  const reach = Math.round(ZERO_SECONDS * sampleRate);
  const settle = async (seconds: number) => {
    const frame = itemFrame(facts, seconds);
    const from = Math.max(0, frame - reach);
    const block = await overview.readSamples(from, frame + reach + 1);
    const x = block[region.channel ?? 0];
    return x ? (from + zeroCrossing(x, frame - from, reach)) / sampleRate : seconds;
  };
  const [start, end] = await Promise.all([settle(region.start), settle(region.end)]);
  // Another selection may have been made meanwhile.
  if (useWorkspace.getState().selection === region && end > start)
    useWorkspace.setState({ selection: { ...region, start, end } });
}
