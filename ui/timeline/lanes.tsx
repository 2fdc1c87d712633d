"use client";

import { useCallback, useMemo } from "react";
import { pairCurves } from "@core/measure/pair-curve";
import { levelsAfter, predictChain } from "@core/delivery/predict-chain";
import { dbToGain } from "@core/audio/decibel";
import { useWorkspace, type TimeRange } from "@ui/state/workspace-store";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { useRepairProgress } from "@ui/state/repair-progress";
import type { Context, Colours } from "../canvas/draw";
import { drawCorrelation, drawReduction } from "./draw-curves";
import { drawLoudness } from "./draw-loudness";
import { drawWaveform } from "./draw-waveform";
import { LaneCanvas, LaneName, waveModel, type Size } from "./lane-canvas";
import { useLanes, type LaneId } from "../state/lane-settings";
import { SAMPLES_BELOW_FRAMES_PER_PIXEL } from "../state/recording-overview";
import { SpectrogramLane, BalanceLane } from "./spectrogram-lanes";
import type { SpectrogramTiles } from "./spectrogram-tiles";

interface LaneProps {
  facts: ItemFacts;
  tiles: SpectrogramTiles;
}

/** The limiter's ceiling less the gain before it: the waveform is drawn as it came. */
function useCeiling(): number | undefined {
  const { chain } = useCurrentItem();
  const limiter = chain.findLast((entry) => entry.type === "limiter" && !entry.bypass);
  if (typeof limiter?.ceilingDbtp !== "number") return undefined;
  const gainDb = chain.reduce(
    (sum, entry) =>
      entry.type === "gain" && !entry.bypass && typeof entry.gainDb === "number" ? sum + entry.gainDb : sum,
    0,
  );
  return Math.min(1, dbToGain(limiter.ceilingDbtp - gainDb));
}

/** Whether the waveform shows the recording as it came, or after its repairs. */
function useWaveShown(): "original" | "repaired" {
  const original = useWorkspace((workspace) => workspace.monitorSource === "original");
  const repaired = useRepairProgress(({ bins }) => bins !== null);
  return repaired && !original ? "repaired" : "original";
}

export function WaveformLane({ facts }: LaneProps) {
  const tallerDb = useWorkspace((workspace) => workspace.waveformZoomDb);
  const folded = useLanes((lanes) => lanes.folded);
  const body = useLanes((lanes) => lanes.body);
  const ruler = useLanes((lanes) => lanes.ruler);
  const ceiling = useCeiling();
  const shown = useWaveShown();
  const draw = useCallback(
    (context: Context, { width, height }: Size, inks: Colours, view: TimeRange) => {
      const model = waveModel(facts, view, width, folded);
      const { start, framesPerPixel } = model;
      const close =
        framesPerPixel < SAMPLES_BELOW_FRAMES_PER_PIXEL && !folded
          ? facts.overview.samples(Math.floor(start), Math.ceil(start + width * framesPerPixel))
          : undefined;
      const samples = close && { block: close.block, first: close.start, framesPerPixel, start };
      const scale = dbToGain(tallerDb);
      drawWaveform(context, { ...model, width, height, scale, samples, ceiling, body, ruler }, inks);
    },
    // What is shown is read where it is drawn.
    // oxlint-disable-next-line react-hooks/exhaustive-deps
    [facts, ceiling, tallerDb, folded, body, ruler, shown],
  );
  return (
    <>
      <LaneCanvas label="Waveform, peak and RMS" facts={facts} draw={draw} />
      <LaneName>
        Waveform · peak and RMS{shown === "repaired" && " · after the repairs, as far as they are made"}
        {tallerDb !== 0 && ` · drawn ${tallerDb} dB taller`}
        {ceiling !== undefined && <span className="text-outside"> · above the dashed line the limiter cuts</span>}
      </LaneName>
    </>
  );
}

export function LoudnessLane({ facts }: LaneProps) {
  const { spec, chainFigures, chainCurves } = useCurrentItem();
  const estimatedDb = (chainFigures?.integratedLufs ?? 0) - (facts.figures.integratedLufs ?? 0);
  const shiftDb = chainCurves ? 0 : estimatedDb;
  const draw = useCallback(
    (context: Context, size: Size, inks: Colours, view: TimeRange) => {
      const limitOf = (figure: string) => spec?.limits.find((limit) => limit.figure === figure);
      const { momentaryLufs, shortTermLufs } = chainCurves ?? facts.curves;
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
    [facts, spec, shiftDb, chainCurves],
  );
  return (
    <>
      <LaneCanvas label="Loudness over time" facts={facts} draw={draw} />
      <LaneName low>
        Loudness · short-term ink, momentary grey{spec ? ` · band: ${spec.name}` : ""}
        {Math.abs(estimatedDb) > 0.05 && ` · after the chain, ${chainCurves ? "measured" : "estimated"}`}
      </LaneName>
    </>
  );
}

/** A pair is judged while its weaker channel is within this of the stronger. */
const JUDGED_WITHIN_DB = 20;

export function CorrelationLane({ facts }: LaneProps) {
  const { source, curves, sampleRate } = facts;
  const speakers = source.layout?.speakers;
  const pairs = useMemo(
    () => pairCurves(curves.channelProducts, speakers ?? [], sampleRate, JUDGED_WITHIN_DB),
    [curves, speakers, sampleRate],
  );
  const { hopSeconds } = curves.channelProducts;
  // Of two channels there is one pair; of more, each step shows the one most opposed.
  const values = useMemo(
    () =>
      Float32Array.from(pairs[0]?.values ?? [], (_, row) =>
        pairs.reduce((lowest, pair) => {
          const v = pair.values[row]!;
          return v === v && !(v >= lowest) ? v : lowest;
        }, NaN),
      ),
    [pairs],
  );
  const draw = useCallback(
    (context: Context, size: Size, inks: Colours, view: TimeRange) =>
      drawCorrelation(context, { ...size, view, hopSeconds, values }, inks),
    [hopSeconds, values],
  );
  return (
    <>
      <LaneCanvas label="Correlation over time" facts={facts} draw={draw} />
      <LaneName>
        {pairs.length === 0
          ? "Correlation · one channel has none"
          : pairs.length === 1
            ? "Correlation of the sides · 400 ms"
            : `Correlation · the lowest of ${pairs.length} pairs · 400 ms`}
      </LaneName>
    </>
  );
}

/** dB at the bottom of the lane. */
const DEEPEST_REDUCTION = 12;

export function ReductionLane({ facts }: LaneProps) {
  const { chain, reductions } = useCurrentItem();
  const limits = chain.some((entry) => entry.type === "limiter" && !entry.bypass);
  const values = useMemo(() => {
    const taken = new Float32Array(facts.curves.samplePeakDbfs.values.length);
    chain.forEach((entry, at) => {
      if (entry.type !== "limiter" || entry.bypass) return;
      const measured = entry.id ? reductions?.of[entry.id] : undefined;
      if (measured) return taken.forEach((_, i) => (taken[i]! += Math.max(0, ...measured.map((row) => row[i] ?? 0))));
      // Estimated: what it makes lower than it came in.
      const before = levelsAfter(facts.figures, facts.curves, chain.slice(0, at), facts.knownLevels);
      const after = predictChain(before, [entry]);
      taken.forEach((_, i) => {
        const cut = before.peakDb[i]! - after.peakDb[i]!;
        if (cut > 0) taken[i]! += cut;
      });
    });
    return taken;
  }, [facts, chain, reductions]);
  const { hopSeconds } = facts.curves.samplePeakDbfs;
  const draw = useCallback(
    (context: Context, size: Size, inks: Colours, view: TimeRange) =>
      drawReduction(context, { ...size, view, hopSeconds, values }, DEEPEST_REDUCTION, inks),
    [hopSeconds, values],
  );
  return (
    <>
      <LaneCanvas label="Gain reduction over time" facts={facts} draw={draw} />
      <LaneName>
        {limits
          ? `Gain reduction · of the limiters, ${reductions ? "measured" : "estimated from 100 ms peaks"}`
          : "Gain reduction · no limiter in the chain"}
      </LaneName>
    </>
  );
}

export function LaneOf({ id, ...props }: LaneProps & { id: LaneId }) {
  switch (id) {
    case "waveform":
      return <WaveformLane {...props} />;
    case "tone":
      return <BalanceLane {...props} />;
    case "spectrogram":
    case "constant-q":
      return <SpectrogramLane {...props} lane={id} />;
    case "loudness":
      return <LoudnessLane {...props} />;
    case "correlation":
      return <CorrelationLane {...props} />;
    case "reduction":
      return <ReductionLane {...props} />;
  }
}
