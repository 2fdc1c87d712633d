"use client";

import { useCallback, useEffect, useMemo, useState } from "react";
import { BAND_COUNT, BAND_EDGES } from "@core/measure/analysis-block";
import type { SpectrogramSettings } from "@core/spectrogram/spectrogram";
import { dbToGain } from "@core/audio/decibel";
import { useWorkspace, type TimeRange } from "@ui/state/workspace-store";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { engine } from "@ui/state/listening-engine";
import { useShownRepairs } from "@ui/state/repair-rendering";
import { soundUrl } from "@ui/state/use-range-figures";
import type { Context, Colours } from "../canvas/draw";
import { drawFrequencyRuler } from "./draw-spectrogram";
import { drawWaveform } from "./draw-waveform";
import { LaneCanvas, LaneName, waveModel, type Size } from "./lane-canvas";
import { useLanes, type LaneId, type SpectrogramLook } from "../state/lane-settings";
import { SPECTROGRAM_ROWS, SpectrogramTiles, balanceOf, balanceShare } from "./spectrogram-tiles";
import { showLevels } from "./picture-levels";
import { balanceColour } from "../canvas/scales";
import { secondsAt } from "../state/time-window";

interface LaneProps {
  facts: ItemFacts;
  tiles: SpectrogramTiles;
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
  return sum < 1e-12 ? null : balanceShare(Math.exp(weighted / sum));
}

/** Close views take the tone from pictures; this far out the bands of the whole are as fine. */
const TONE_FROM_BANDS_SECONDS = 40;

export function BalanceLane({ facts, tiles }: LaneProps) {
  const tallerDb = useWorkspace((workspace) => workspace.waveformZoomDb);
  const settings = useMemo(() => spectrogramSettings(TONE_LOOK, "spectrogram", facts.sampleRate), [facts.sampleRate]);
  const draw = useCallback(
    (context: Context, { width, height }: Size, inks: Colours, view: TimeRange) => {
      const model = waveModel(facts, view, width, false);
      const close = view.end - view.start < TONE_FROM_BANDS_SECONDS;
      if (close) tiles.ask(width, model.start, model.framesPerPixel, settings, null, FINEST_TONE_HOP);
      const inkAt = (x: number) => {
        const levels = close
          ? tiles.column(Math.floor(model.start + (x + 0.5) * model.framesPerPixel), settings, null)
          : null;
        const tone = levels ? balanceOf(levels, settings) : toneOfBands(facts, secondsAt(x, view, width));
        return tone === null ? null : balanceColour(tone);
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
            <span aria-hidden style={{ color: balanceColour(balanceShare(hertz)) }}>
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

export function spectrogramSettings(
  { points, scale, lowHertz, highHertz }: Pick<SpectrogramLook, "points" | "scale" | "lowHertz" | "highHertz">,
  kind: SpectrogramSettings["kind"],
  sampleRate: number,
): SpectrogramSettings {
  const high = Math.min(highHertz, sampleRate / 2);
  // A logarithm has no zero.
  const low = Math.min(scale === "log" ? Math.max(20, lowHertz) : lowHertz, high / 2);
  return { kind, points, scale, low, high, rows: SPECTROGRAM_ROWS };
}

/** The frequency axis of a lane, if it has one. */
export function axisOf(lane: LaneId, picture: SpectrogramLook, sampleRate: number): SpectrogramSettings | null {
  if (lane === "spectrogram") return spectrogramSettings(picture, picture.kind, sampleRate);
  if (lane !== "constant-q") return null;
  return spectrogramSettings({ ...picture, scale: "log", points: CONSTANT_Q_POINTS }, "constant-q", sampleRate);
}

/** The channel that is shown of this recording. */
const shownChannel = ({ channel }: SpectrogramLook, { overview }: ItemFacts): number | null =>
  channel !== null && channel < overview.channels ? channel : null;

export function SpectrogramLane({ facts, tiles, lane }: LaneProps & { lane: "spectrogram" | "constant-q" }) {
  const picture = useLanes((lanes) => lanes.picture);
  const overlay = useLanes((lanes) => (lane === "spectrogram" ? lanes.overlay : 0));
  const tallerDb = useWorkspace((workspace) => workspace.waveformZoomDb);
  const [complete, setComplete] = useState(true);
  const repaired = useShownRepairs().length > 0;
  const settings = useMemo(() => axisOf(lane, picture, facts.sampleRate)!, [lane, picture, facts.sampleRate]);
  const draw = useCallback(
    (context: Context, { width, height }: Size, inks: Colours, view: TimeRange) => {
      const start = view.start * facts.sampleRate;
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
      drawFrequencyRuler(context, { width, height, axis: settings }, inks);
    },
    [facts, tiles, lane, picture, settings, overlay, tallerDb],
  );
  const channel = shownChannel(picture, facts);
  useEffect(
    () =>
      showLevels(lane, (seconds, hertz) =>
        tiles.levelAt(Math.floor(seconds * facts.sampleRate), hertz, settings, channel),
      ),
    [lane, tiles, facts.sampleRate, settings, channel],
  );
  const name =
    lane === "constant-q" ? "Constant Q" : picture.kind === "reassigned" ? "Spectrogram, reassigned" : "Spectrogram";
  return (
    <>
      <LaneCanvas label={`${name}: energy over time and frequency`} facts={facts} draw={draw} />
      <LaneName>
        {name}
        {channel === null ? "" : ` of ${facts.source.layout?.speakers[channel]?.label ?? channel + 1}`} ·{" "}
        {picture.lowDb < 0 ? `−${-picture.lowDb}` : picture.lowDb} to −{-picture.highDb} dBFS
        {repaired && " · after the repairs"}
        <span data-testid={`${lane}-complete`} data-complete={complete}>
          {complete ? "" : " · being refined"}
        </span>
      </LaneName>
    </>
  );
}

/** Pictures of the item's recording, for all lanes; made anew with another recording, and with other repairs. */
export function useSpectrogramTiles(facts: ItemFacts): SpectrogramTiles {
  const { notifyArrival } = useCurrentItem();
  const { item, source, sampleRate, editList, curves } = facts;
  const clips = item.clips ?? null;
  const pcm = source.pcm_hash;
  const repairs = useShownRepairs();
  const tiles = useMemo(
    () =>
      new SpectrogramTiles(
        pcm ? soundUrl(pcm) : "",
        repairs,
        clips,
        sampleRate,
        editList.frames,
        curves.bandPowers,
        notifyArrival,
        () => engine().state.playing,
      ),
    [pcm, repairs, clips, sampleRate, editList, curves.bandPowers, notifyArrival],
  );
  useEffect(() => () => tiles.close(), [tiles]);
  return tiles;
}
