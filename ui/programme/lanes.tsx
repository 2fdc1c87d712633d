"use client";

import { useCallback, useEffect, type PointerEvent, type ReactNode } from "react";
import { dbToGain } from "@core/signal/decibel";
import { useDesk, type Stretch } from "@ui/workspace/desk";
import { useInHand, type ItemFacts } from "@ui/workspace/in-hand";
import { drawLoudness, drawOverviewStrip, drawRuler, drawWaveform, type Context, type Inks } from "./draw";
import { SAMPLES_BELOW_FRAMES_PER_PIXEL } from "./overview-data";
import { scrolled } from "./time-window";
import { useCanvas } from "./use-canvas";

function useRedrawOnArrival(redraw: () => void): void {
  const { onArrival } = useInHand();
  useEffect(() => onArrival(redraw), [onArrival, redraw]);
}

const stripWindow = (clientX: number, element: HTMLElement, view: Stretch, duration: number): Stretch => {
  const box = element.getBoundingClientRect();
  const middle = ((clientX - box.left) / box.width) * duration;
  return scrolled(view, middle - (view.start + view.end) / 2, duration);
};

export function OverviewStrip({ facts, view }: { facts: ItemFacts; view: Stretch }) {
  const { duration, overview, range, sampleRate } = facts;
  const draw = useCallback(
    (context: Context, { width, height }: { width: number; height: number }, inks: Inks) => {
      const columns = overview.columns(range.start, (duration * sampleRate) / width, width);
      drawOverviewStrip(context, { width, height, columns, window: view, duration }, inks);
    },
    [overview, range.start, duration, sampleRate, view],
  );
  const { ref, redraw } = useCanvas(draw);
  useRedrawOnArrival(redraw);
  const move = (event: PointerEvent<HTMLCanvasElement>) =>
    useDesk.setState({ view: stripWindow(event.clientX, event.currentTarget, view, duration) });
  return (
    <canvas
      ref={ref}
      aria-label="The whole item; drag to move the window"
      className="h-7 w-full shrink-0 cursor-grab border-b border-hair bg-paper"
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId);
        move(event);
      }}
      onPointerMove={(event) => event.buttons === 1 && move(event)}
    />
  );
}

export function Ruler({ view }: { view: Stretch }) {
  const draw = useCallback(
    (context: Context, size: { width: number; height: number }, inks: Inks) =>
      drawRuler(context, { ...size, view }, inks),
    [view],
  );
  const { ref } = useCanvas(draw);
  return <canvas ref={ref} aria-label="Time ruler" className="h-6.5 w-full shrink-0 border-b border-hair" />;
}

export function WaveLane({ facts, view }: { facts: ItemFacts; view: Stretch }) {
  const { chain } = useInHand();
  const tallerDb = useDesk((desk) => desk.tallerDb);
  const limiter = chain.findLast((entry) => entry.type === "limiter" && !entry.bypass);
  const ceilingDb = typeof limiter?.ceilingDbtp === "number" ? limiter.ceilingDbtp : null;
  const gainDb = chain.reduce(
    (sum, entry) =>
      entry.type === "gain" && !entry.bypass && typeof entry.gainDb === "number" ? sum + entry.gainDb : sum,
    0,
  );
  const draw = useCallback(
    (context: Context, { width, height }: { width: number; height: number }, inks: Inks) => {
      const { overview, range, sampleRate, source } = facts;
      const start = range.start + view.start * sampleRate;
      const framesPerPixel = ((view.end - view.start) * sampleRate) / width;
      const close =
        framesPerPixel < SAMPLES_BELOW_FRAMES_PER_PIXEL
          ? overview.samples(Math.floor(start), Math.ceil(start + width * framesPerPixel))
          : undefined;
      drawWaveform(
        context,
        {
          width,
          height,
          columns: overview.columns(start, framesPerPixel, width),
          labels: source.layout?.speakers.map(({ label }) => label) ?? [],
          scale: dbToGain(tallerDb),
          samples: close && { block: close.block, first: close.start, framesPerPixel, start },
          // The waveform is drawn as it came; what the limiter will cut of it lies above the ceiling less the gain.
          ceiling: ceilingDb === null ? undefined : Math.min(1, dbToGain(ceilingDb - gainDb)),
        },
        inks,
      );
    },
    [facts, view, ceilingDb, gainDb, tallerDb],
  );
  const { ref, redraw } = useCanvas(draw);
  useRedrawOnArrival(redraw);
  return (
    <div className="relative min-h-0 flex-1">
      <canvas ref={ref} aria-label="Waveform, peak and RMS" className="absolute inset-0 size-full" />
      <LaneName>
        Waveform · peak and RMS
        {tallerDb !== 0 && ` · drawn ${tallerDb} dB taller`}
        {ceilingDb !== null && <span className="text-outside"> · above the dashed line the limiter cuts</span>}
      </LaneName>
    </div>
  );
}

function LaneName({ children, low }: { children: ReactNode; low?: boolean }) {
  return (
    <div
      className={`pointer-events-none absolute ${low ? "bottom-0.5 left-1" : "top-0.5 left-9"} rounded-[2px] bg-sheet/80 px-1 text-label text-soft`}
    >
      {children}
    </div>
  );
}

export function LoudnessLane({ facts, view }: { facts: ItemFacts; view: Stretch }) {
  const { spec, now } = useInHand();
  const shiftDb = (now?.integratedLufs ?? 0) - (facts.figures.integratedLufs ?? 0);
  const draw = useCallback(
    (context: Context, size: { width: number; height: number }, inks: Inks) => {
      const limitOf = (figure: string) => spec?.limits.find((limit) => limit.figure === figure);
      const { momentaryLufs, shortTermLufs } = facts.curves;
      drawLoudness(
        context,
        {
          ...size,
          view,
          hopSeconds: momentaryLufs.hopSeconds,
          momentary: momentaryLufs.values,
          shortTerm: shortTermLufs.values,
          offset: 0,
          shiftDb,
          target: limitOf("integratedLufs"),
          shortTermMax: limitOf("shortTermMaxLufs")?.max,
        },
        inks,
      );
    },
    [facts, view, spec, shiftDb],
  );
  const { ref } = useCanvas(draw);
  return (
    <div className="relative h-22 shrink-0 border-t border-hair">
      <canvas ref={ref} aria-label="Loudness over time" className="absolute inset-0 size-full" />
      <LaneName low>
        Loudness · short-term ink, momentary grey{spec ? ` · band: ${spec.name}` : ""}
        {Math.abs(shiftDb) > 0.05 && " · after the chain, estimated"}
      </LaneName>
    </div>
  );
}
