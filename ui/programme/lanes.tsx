"use client";

import { useCallback, useEffect, useMemo, useState, type ReactNode } from "react";
import { pairCurves } from "@core/measure/pair-curve";
import { BAND_COUNT, BAND_EDGES } from "@core/measure/tick";
import type { PictureSettings } from "@core/pictures/picture";
import { predictChain, levelsOf } from "@core/render/predict";
import { dbToGain } from "@core/signal/decibel";
import { useDesk, type Stretch } from "@ui/workspace/desk";
import { useInHand, type ItemFacts } from "@ui/workspace/in-hand";
import { engine } from "@ui/workspace/listening";
import { drawCorrelation, drawReduction } from "./draw-curves";
import type { Context, Inks } from "./draw";
import { drawLoudness } from "./draw-loudness";
import { drawPictureRuler } from "./draw-picture";
import { drawWaveform } from "./draw-waveform";
import { useLanes, type LaneId, type PictureLook } from "./lane-settings";
import { OverviewData, SAMPLES_BELOW_FRAMES_PER_PIXEL } from "./overview-data";
import { PICTURE_ROWS, PictureTiles, toneOf, toneShare } from "./picture-tiles";
import { toneInk } from "./scales";
import { secondsAt, windowNow, onWindow } from "./time-window";
import { useCanvas } from "./use-canvas";
import { soundUrl } from "@ui/workspace/use-stretch-figures";

interface Size {
  width: number;
  height: number;
}

/** A canvas over the window on the item: drawn anew when the window moves or something arrives, outside of React. */
function LaneCanvas({
  label,
  facts,
  draw,
}: {
  label: string;
  facts: ItemFacts;
  draw: (context: Context, size: Size, inks: Inks, view: Stretch) => void;
}) {
  const { onArrival } = useInHand();
  const { duration } = facts;
  const drawNow = useCallback(
    (context: Context, size: Size, inks: Inks) => draw(context, size, inks, windowNow(duration)),
    [draw, duration],
  );
  const { ref, redraw } = useCanvas(drawNow);
  useEffect(() => {
    const ends = [onArrival(redraw), onWindow(redraw)];
    return () => ends.forEach((end) => end());
  }, [onArrival, redraw]);
  return <canvas ref={ref} role="img" aria-label={label} className="absolute inset-0 size-full" />;
}

export function LaneName({ children, low }: { children: ReactNode; low?: boolean }) {
  return (
    <div
      className={`pointer-events-none absolute ${low ? "bottom-0.5 left-1" : "top-0.5 left-9"} rounded-[2px] bg-sheet/80 px-1 text-label text-soft`}
    >
      {children}
    </div>
  );
}

interface LaneProps {
  facts: ItemFacts;
  tiles: PictureTiles;
}

/** The limiter's ceiling less the gain before it: the waveform is drawn as it came. */
function useCeiling(): number | undefined {
  const { chain } = useInHand();
  const limiter = chain.findLast((entry) => entry.type === "limiter" && !entry.bypass);
  if (typeof limiter?.ceilingDbtp !== "number") return undefined;
  const gainDb = chain.reduce(
    (sum, entry) =>
      entry.type === "gain" && !entry.bypass && typeof entry.gainDb === "number" ? sum + entry.gainDb : sum,
    0,
  );
  return Math.min(1, dbToGain(limiter.ceilingDbtp - gainDb));
}

function waveModel({ overview, range, sampleRate, source }: ItemFacts, view: Stretch, width: number, folded: boolean) {
  const start = range.start + view.start * sampleRate;
  const framesPerPixel = ((view.end - view.start) * sampleRate) / width;
  const columns = overview.columns(start, framesPerPixel, width);
  const labels = source.layout?.speakers.map(({ label }) => label) ?? [];
  return {
    start,
    framesPerPixel,
    columns: folded ? OverviewData.folded(columns) : columns,
    labels: folded && columns.length > 1 ? ["all"] : labels,
  };
}

export function WaveLane({ facts }: LaneProps) {
  const tallerDb = useDesk((desk) => desk.tallerDb);
  const folded = useLanes((lanes) => lanes.folded);
  const body = useLanes((lanes) => lanes.body);
  const ruler = useLanes((lanes) => lanes.ruler);
  const ceiling = useCeiling();
  const draw = useCallback(
    (context: Context, { width, height }: Size, inks: Inks, view: Stretch) => {
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
    [facts, ceiling, tallerDb, folded, body, ruler],
  );
  return (
    <>
      <LaneCanvas label="Waveform, peak and RMS" facts={facts} draw={draw} />
      <LaneName>
        Waveform · peak and RMS
        {tallerDb !== 0 && ` · drawn ${tallerDb} dB taller`}
        {ceiling !== undefined && <span className="text-outside"> · above the dashed line the limiter cuts</span>}
      </LaneName>
    </>
  );
}

/** Tone of a moment from the bands of the whole: 0 dull, 1 bright. */
function toneOfBands(facts: ItemFacts, seconds: number): number | null {
  const { values, hopSeconds } = facts.curves.bandPowers;
  const row = Math.floor(seconds / hopSeconds) * BAND_COUNT;
  let sum = 0;
  let weighted = 0;
  for (let band = 0; band < BAND_COUNT; band++) {
    const power = values[row + band] ?? 0;
    sum += power;
    weighted += power * Math.log(Math.sqrt(BAND_EDGES[band]! * BAND_EDGES[band + 1]!));
  }
  return sum < 1e-12 ? null : toneShare(Math.exp(weighted / sum));
}

/** Close views take the tone from pictures; this far out the bands of the whole are as fine. */
const TONE_FROM_BANDS_SECONDS = 40;

export function ToneLane({ facts, tiles }: LaneProps) {
  const tallerDb = useDesk((desk) => desk.tallerDb);
  const settings = useMemo(() => pictureSettings(TONE_LOOK, "spectrogram", facts.sampleRate), [facts.sampleRate]);
  const draw = useCallback(
    (context: Context, { width, height }: Size, inks: Inks, view: Stretch) => {
      const model = waveModel(facts, view, width, false);
      const close = view.end - view.start < TONE_FROM_BANDS_SECONDS;
      if (close) tiles.ask(width, model.start, model.framesPerPixel, settings, null, FINEST_TONE_HOP);
      const inkAt = (x: number) => {
        const levels = close
          ? tiles.column(Math.floor(model.start + (x + 0.5) * model.framesPerPixel), settings, null)
          : null;
        const tone = levels ? toneOf(levels, settings) : toneOfBands(facts, secondsAt(x, view, width));
        return tone === null ? null : toneInk(tone);
      };
      drawWaveform(context, { ...model, width, height, scale: dbToGain(tallerDb), inkAt }, inks);
    },
    [facts, tiles, settings, tallerDb],
  );
  return (
    <>
      <LaneCanvas label="Waveform, coloured by tone" facts={facts} draw={draw} />
      <LaneName>
        Waveform by tone ·{" "}
        {[80, 800, 8000].map((hertz) => (
          <span key={hertz} className="mr-1">
            <span aria-hidden style={{ color: toneInk(toneShare(hertz)) }}>
              ■
            </span>{" "}
            {hertz < 1000 ? `${hertz} Hz` : `${hertz / 1000} kHz`}
          </span>
        ))}
      </LaneName>
    </>
  );
}

const FINEST_TONE_HOP = 256;
const TONE_LOOK = { points: 1024, scale: "log", lowHertz: 40, highHertz: 16_000 } as const;
/** The longest window of the picture of constant Q. */
const CONSTANT_Q_POINTS = 16_384;
const CONSTANT_Q_HOP = 128;

export function pictureSettings(
  { points, scale, lowHertz, highHertz }: Pick<PictureLook, "points" | "scale" | "lowHertz" | "highHertz">,
  kind: PictureSettings["kind"],
  sampleRate: number,
): PictureSettings {
  const high = Math.min(highHertz, sampleRate / 2);
  // A logarithm has no zero.
  const low = Math.min(scale === "log" ? Math.max(20, lowHertz) : lowHertz, high / 2);
  return { kind, points, scale, low, high, rows: PICTURE_ROWS };
}

/** The frequency axis of a lane, if it has one. */
export function axisOf(lane: LaneId, picture: PictureLook, sampleRate: number): PictureSettings | null {
  if (lane === "spectrogram") return pictureSettings(picture, picture.kind, sampleRate);
  if (lane !== "constant-q") return null;
  return pictureSettings({ ...picture, scale: "log", points: CONSTANT_Q_POINTS }, "constant-q", sampleRate);
}

/** The channel that is shown of this recording. */
const shownChannel = ({ channel }: PictureLook, { overview }: ItemFacts): number | null =>
  channel !== null && channel < overview.header.channels ? channel : null;

export function PictureLane({ facts, tiles, lane }: LaneProps & { lane: "spectrogram" | "constant-q" }) {
  const picture = useLanes((lanes) => lanes.picture);
  const overlay = useLanes((lanes) => (lane === "spectrogram" ? lanes.overlay : 0));
  const tallerDb = useDesk((desk) => desk.tallerDb);
  const [complete, setComplete] = useState(true);
  const settings = useMemo(() => axisOf(lane, picture, facts.sampleRate)!, [lane, picture, facts.sampleRate]);
  const draw = useCallback(
    (context: Context, { width, height }: Size, inks: Inks, view: Stretch) => {
      const start = facts.range.start + view.start * facts.sampleRate;
      const framesPerPixel = ((view.end - view.start) * facts.sampleRate) / width;
      const finest = lane === "constant-q" ? CONSTANT_Q_HOP : picture.points / picture.overlap;
      const look = { low: picture.lowDb, high: picture.highDb, palette: picture.palette };
      const drawn = tiles.draw(
        context,
        { width, height, top: 0 },
        start,
        framesPerPixel,
        settings,
        shownChannel(picture, facts),
        finest,
        look,
      );
      setComplete(drawn.complete);
      if (overlay > 0) {
        context.globalAlpha = overlay;
        const model = waveModel(facts, view, width, true);
        const pale = { ...inks, peak: "#f3f1ea", grid: "transparent" };
        drawWaveform(context, { ...model, width, height, scale: dbToGain(tallerDb), body: 0, labels: [" "] }, pale);
        context.globalAlpha = 1;
      }
      drawPictureRuler(context, { width, height, axis: settings }, inks);
    },
    [facts, tiles, lane, picture, settings, overlay, tallerDb],
  );
  const channel = shownChannel(picture, facts);
  const name =
    lane === "constant-q" ? "Constant Q" : picture.kind === "reassigned" ? "Spectrogram, reassigned" : "Spectrogram";
  return (
    <>
      <LaneCanvas label={`${name}: energy over time and frequency`} facts={facts} draw={draw} />
      <LaneName>
        {name}
        {channel === null ? "" : ` of ${facts.source.layout?.speakers[channel]?.label ?? channel + 1}`} ·{" "}
        {picture.lowDb < 0 ? `−${-picture.lowDb}` : picture.lowDb} to −{-picture.highDb} dBFS
        <span data-testid={`${lane}-complete`} data-complete={complete}>
          {complete ? "" : " · being refined"}
        </span>
      </LaneName>
    </>
  );
}

export function LoudnessLane({ facts }: LaneProps) {
  const { spec, now } = useInHand();
  const shiftDb = (now?.integratedLufs ?? 0) - (facts.figures.integratedLufs ?? 0);
  const draw = useCallback(
    (context: Context, size: Size, inks: Inks, view: Stretch) => {
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
    [facts, spec, shiftDb],
  );
  return (
    <>
      <LaneCanvas label="Loudness over time" facts={facts} draw={draw} />
      <LaneName low>
        Loudness · short-term ink, momentary grey{spec ? ` · band: ${spec.name}` : ""}
        {Math.abs(shiftDb) > 0.05 && " · after the chain, estimated"}
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
    (context: Context, size: Size, inks: Inks, view: Stretch) =>
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
  const { chain } = useInHand();
  const limits = chain.some((entry) => entry.type === "limiter" && !entry.bypass);
  const values = useMemo(() => {
    const before = levelsOf(facts.figures, facts.curves);
    const taken = new Float32Array(before.peakDb.length);
    // What each limiter makes lower than it came in.
    let current = before;
    for (const entry of chain) {
      const next = predictChain(current, [entry]);
      if (entry.type === "limiter" && !entry.bypass)
        next.peakDb.forEach((db, i) => (taken[i]! += Math.max(0, current.peakDb[i]! - db)));
      current = next;
    }
    return taken;
  }, [facts, chain]);
  const { hopSeconds } = facts.curves.samplePeakDbfs;
  const draw = useCallback(
    (context: Context, size: Size, inks: Inks, view: Stretch) =>
      drawReduction(context, { ...size, view, hopSeconds, values }, DEEPEST_REDUCTION, inks),
    [hopSeconds, values],
  );
  return (
    <>
      <LaneCanvas label="Gain reduction over time" facts={facts} draw={draw} />
      <LaneName>
        {limits
          ? "Gain reduction · of the limiters, estimated from 100 ms peaks"
          : "Gain reduction · no limiter in the chain"}
      </LaneName>
    </>
  );
}

export function LaneOf({ id, ...props }: LaneProps & { id: LaneId }) {
  switch (id) {
    case "waveform":
      return <WaveLane {...props} />;
    case "tone":
      return <ToneLane {...props} />;
    case "spectrogram":
    case "constant-q":
      return <PictureLane {...props} lane={id} />;
    case "loudness":
      return <LoudnessLane {...props} />;
    case "correlation":
      return <CorrelationLane {...props} />;
    case "reduction":
      return <ReductionLane {...props} />;
  }
}

/** Pictures of the item's recording, for all lanes; made anew with another recording. */
export function usePictureTiles(facts: ItemFacts): PictureTiles {
  const { arrived } = useInHand();
  const { source, sampleRate, overview } = facts;
  const pcm = source.pcm_hash;
  const tiles = useMemo(
    () =>
      new PictureTiles(
        pcm ? soundUrl(pcm) : "",
        sampleRate,
        overview.header.frames,
        overview.curves.bandPowers,
        arrived,
        () => engine().state.playing,
      ),
    [pcm, sampleRate, overview, arrived],
  );
  useEffect(() => () => tiles.close(), [tiles]);
  return tiles;
}
