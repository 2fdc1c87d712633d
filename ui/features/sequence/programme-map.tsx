"use client";

import { useCallback, useEffect, useMemo, useRef, type PointerEvent as ReactPointerEvent } from "react";
import { EditList } from "@core/edit-list/edit-list";
import type { Item } from "@core/project/document";
import { placedReferences } from "@core/programme/references";
import { knownRecordings } from "@core/project/views";
import { dbToGain } from "@core/audio/decibel";
import { useCanvas } from "@ui/canvas/use-canvas";
import { useCurrentItem } from "@ui/state/current-item";
import { engine, useEngineState } from "@ui/state/listening-engine";
import { useWholeProgramme, useTargetBand } from "@ui/state/programme";
import { goToProgramme } from "@ui/state/programme-listening";
import { scrolled, secondsAt, xOf, zoomed } from "@ui/state/time-window";
import { openItem, useWorkspace, type TimeRange } from "@ui/state/workspace-store";
import { GainLineOverlay } from "./gain-line-overlay";
import { drawProgramme } from "./draw-programme";

const kept = new WeakMap<object, Float32Array>();

/** Peaks as amplitudes, made once for each curve. */
function amplitudes(peaksDbfs: Float32Array): Float32Array {
  let made = kept.get(peaksDbfs);
  if (!made) kept.set(peaksDbfs, (made = peaksDbfs.map((db) => dbToGain(db))));
  return made;
}

/** All of the programme on one axis. A click puts the playhead; on an item it takes that in hand. */
export function ProgrammeMap() {
  const { view: project, item: inHand } = useCurrentItem();
  const { timeline, levels, items, duration, join, known } = useWholeProgramme();
  const target = useTargetBand();
  const shown = useWorkspace((workspace) => workspace.programmeView);
  const view = useMemo<TimeRange>(() => shown ?? { start: 0, end: Math.max(1, duration) }, [shown, duration]);
  const { lanes, markers, references } = project.document.programme;
  const { sources } = project;
  const placed = useMemo(() => {
    if (!timeline) return [];
    const names = new Map(references.map(({ id, source }) => [id, sources.find(({ hash }) => hash === source)?.name]));
    const places = placedReferences(references, timeline, knownRecordings(sources));
    return places.map(({ item, start, end }) => ({ name: names.get(item) ?? "", start, end }));
  }, [references, timeline, sources]);

  const draw = useCallback<Parameters<typeof useCanvas>[0]>(
    (context, { width, height }, inks) => {
      if (!timeline) return;
      drawProgramme(
        context,
        {
          width,
          height,
          view,
          timeline,
          items,
          lanes,
          references: placed,
          markers,
          levels,
          peaksOf(item) {
            // A place that is dragged makes another item of it: its sound is that of the one that is kept.
            const stored = project.document.items.find(({ id }) => id === item.id) ?? item;
            const facts = known(stored);
            return facts && amplitudes(facts.curves.samplePeakDbfs.values);
          },
          trimmedOf(item: Item) {
            const frames = sources.find(({ hash }) => hash === item.source)?.figures?.frames ?? 0;
            const { clips } = EditList.of(item.clips, frames);
            const last = clips.at(-1)!;
            const [head, tail] = [clips[0]!, last].map(({ kind }) => kind === "recording");
            return { head: head ? clips[0]!.start : 0, tail: tail ? frames - last.end : 0 };
          },
          inHand: inHand?.id ?? null,
          join,
          target,
        },
        inks,
      );
    },
    [
      timeline,
      view,
      items,
      lanes,
      placed,
      markers,
      levels,
      known,
      project.document.items,
      sources,
      inHand,
      join,
      target,
    ],
  );
  const { ref } = useCanvas(draw);

  // React listens to wheels passively: the page would scroll.
  useEffect(() => {
    const canvas = ref.current;
    if (!canvas) return;
    const turn = (event: WheelEvent) => {
      event.preventDefault();
      const { width, left } = canvas.getBoundingClientRect();
      const next =
        event.shiftKey || Math.abs(event.deltaX) > Math.abs(event.deltaY)
          ? scrolled(view, ((event.deltaX || event.deltaY) / width) * (view.end - view.start), duration)
          : zoomed(view, event.deltaY > 0 ? 1.25 : 0.8, secondsAt(event.clientX - left, view, width), duration);
      useWorkspace.setState({ programmeView: next.start <= 0 && next.end >= duration ? null : next });
    };
    canvas.addEventListener("wheel", turn, { passive: false });
    return () => canvas.removeEventListener("wheel", turn);
  }, [ref, view, duration]);

  const onPointerDown = (event: ReactPointerEvent<HTMLCanvasElement>) => {
    if (!timeline) return;
    const { width, left } = event.currentTarget.getBoundingClientRect();
    const seconds = secondsAt(event.clientX - left, view, width);
    const frame = seconds * timeline.sampleRate;
    const under = timeline.order.findLast(({ start, end }) => frame >= start && frame < end);
    if (under) openItem(under.item);
    goToProgramme(seconds, timeline.sampleRate);
  };

  return (
    <div className="relative h-full min-h-0">
      <canvas
        ref={ref}
        role="img"
        aria-label="The programme: waveforms and short-term loudness of all items"
        className="h-full w-full cursor-text"
        onPointerDown={onPointerDown}
        onDoubleClick={() => useWorkspace.setState({ programmeView: null })}
      />
      <GainLineOverlay view={view} strips={lanes.length + (placed.length > 0 ? 1 : 0)} />
      <ProgrammePlayhead view={view} />
    </div>
  );
}

/** Moved by the audio thread's own count, outside of React. */
function ProgrammePlayhead({ view }: { view: TimeRange }) {
  const { timeline } = useWholeProgramme();
  const { playing } = useEngineState();
  const ref = useRef<HTMLDivElement>(null);
  const sampleRate = timeline?.sampleRate ?? 1;
  useEffect(() => {
    let frame = 0;
    const place = () => {
      const seconds = playing ? engine().position / sampleRate : useWorkspace.getState().programmeCursor;
      const x = xOf(seconds, view, 100);
      if (ref.current) {
        ref.current.style.transform = `translateX(${x}%)`;
        ref.current.style.visibility = x < 0 || x > 100 ? "hidden" : "visible";
      }
      if (playing) frame = requestAnimationFrame(place);
    };
    place();
    const end = useWorkspace.subscribe(() => playing || place());
    return () => {
      cancelAnimationFrame(frame);
      end();
    };
  }, [playing, sampleRate, view]);
  return (
    <div className="pointer-events-none absolute inset-0 z-10 overflow-hidden">
      <div
        ref={ref}
        data-testid="programme-playhead"
        className="absolute inset-0 border-l border-act will-change-transform"
      />
    </div>
  );
}
