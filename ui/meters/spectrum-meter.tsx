"use client";

import { Select } from "@ui/design-system/controls";
import { Snowflake, X } from "lucide-react";
import { useMemo, useRef, useState } from "react";
import { formatDb } from "@core/audio/format";
import { speakerGroups, type Speaker } from "@core/audio/layout";
import { IconButton } from "@ui/design-system/icon-button";
import type { MeterSize } from "./arrangement";
import { bandEdges, LiveSpectrum, RESOLUTIONS, SPECTRUM_OF, type Resolution, type SpectrumOf } from "./live-spectrum";
import { HISTORY_RANGES } from "./loudness-meters";
import { useMeterSource } from "./meter-source";
import { useMeterCanvas } from "./use-meter-canvas";

const LOW_DB = -110;
const HIGH_DB = -6;
/** Of each new spectrum that goes into the average, at 60 frames a second: about a second of the past. */
const AVERAGE_SHARE = 0.04;
const TILTS = [0, 3, 4.5] as const;
const MOST_FROZEN = 4;
const FROZEN_DASHES = [
  [4, 2],
  [1, 2],
  [6, 2, 1, 2],
  [2, 4],
];

interface Frozen {
  name: string;
  levels: Float32Array;
  resolution: Resolution;
}

/** What a spectrum can be of, by its words: the sides, groups of speakers, each channel. */
const sourcesOf = (speakers: readonly Speaker[]): Map<string, SpectrumOf> =>
  new Map<string, SpectrumOf>([
    ...SPECTRUM_OF.map((side) => [side, side] as const),
    ...(speakers.length > 2
      ? [
          ...speakerGroups({ speakers: [...speakers] }).map(({ name, channels }) => [name, channels] as const),
          ...speakers.map(({ label }, channel) => [label, [channel]] as const),
        ]
      : []),
  ]);

/** Spectrum of what is heard: the moment, its average and its highest; frozen ones beside it, by name. */
export function SpectrumMeter({ size }: { size: MeterSize }) {
  const { ring, sampleRate, speakers } = useMeterSource();
  const [resolution, setResolution] = useState<Resolution>("1/6");
  const sources = useMemo(() => sourcesOf(speakers), [speakers]);
  const [ofName, setOfName] = useState<string>(SPECTRUM_OF[0]);
  const of = sources.get(ofName) ?? SPECTRUM_OF[0];
  const [tilt, setTilt] = useState<(typeof TILTS)[number]>(0);
  const [held, setHeld] = useState(true);
  const [frozen, setFrozen] = useState<Frozen[]>([]);
  const edges = useMemo(() => bandEdges(resolution), [resolution]);
  const live = useRef<LiveSpectrum | null>(null);
  const memory = useRef<{ key: string; average: Float32Array; highest: Float32Array } | null>(null);

  const canvas = useMeterCanvas((context, { width, height }, inks) => {
    const now = ring();
    const key = `${resolution}/${ofName}`;
    const bands = edges.length - 1;
    if (memory.current?.key !== key)
      memory.current = {
        key,
        average: new Float32Array(bands).fill(-200),
        highest: new Float32Array(bands).fill(-200),
      };
    const { average, highest } = memory.current;
    live.current ??= new LiveSpectrum();
    const levels = now?.playing ? live.current.take(now, of, edges, sampleRate, resolution) : null;
    levels?.forEach((db, i) => {
      const level = Math.max(-200, db);
      average[i]! += AVERAGE_SHARE * (level - average[i]!);
      if (level > highest[i]!) highest[i] = level;
    });
    const x = (hertz: number) => (Math.log10(hertz / 20) / 3) * width;
    const y = (db: number, hertz: number) =>
      height - ((db + tilt * Math.log2(hertz / 1000) - LOW_DB) / (HIGH_DB - LOW_DB)) * height;
    context.strokeStyle = inks.grid;
    context.lineWidth = 1;
    context.beginPath();
    for (const hertz of [100, 1000, 10_000]) {
      context.moveTo(Math.round(x(hertz)) + 0.5, 0);
      context.lineTo(Math.round(x(hertz)) + 0.5, height);
    }
    for (const db of [-90, -60, -30]) {
      context.moveTo(0, Math.round(y(db, 1000)) + 0.5);
      context.lineTo(width, Math.round(y(db, 1000)) + 0.5);
    }
    context.stroke();
    const middle = (at: readonly number[], band: number) => Math.sqrt(at[band]! * at[band + 1]!);
    if (levels) {
      context.fillStyle = inks.hair;
      levels.forEach((db, band) => {
        const top = y(db, middle(edges, band));
        context.fillRect(
          x(edges[band]!),
          top,
          Math.max(1, x(edges[band + 1]!) - x(edges[band]!) - (bands < 80 ? 1 : 0)),
          height - top,
        );
      });
    }
    const curve = (values: Float32Array, at: readonly number[], ink: string, lineWidth: number) => {
      context.strokeStyle = ink;
      context.lineWidth = lineWidth;
      context.beginPath();
      let begun = false;
      values.forEach((db, band) => {
        if (db <= LOW_DB - 30) return;
        const hertz = middle(at, band);
        if (begun) context.lineTo(x(hertz), y(db, hertz));
        else context.moveTo(x(hertz), y(db, hertz));
        begun = true;
      });
      context.stroke();
    };
    frozen.forEach((one, i) => {
      context.setLineDash(FROZEN_DASHES[i % FROZEN_DASHES.length]!);
      curve(one.levels, bandEdges(one.resolution), inks.soft, 1);
      context.setLineDash([]);
    });
    if (held) curve(highest, edges, inks.peak, 1);
    curve(average, edges, inks.ink, 1.5);
    context.fillStyle = inks.soft;
    context.font = '10px "Atkinson Hyperlegible Mono Variable", monospace';
    context.textBaseline = "alphabetic";
    context.textAlign = "left";
    for (const [hertz, words] of [
      [100, "100"],
      [1000, "1k"],
      [10_000, "10k"],
    ] as const)
      context.fillText(words, x(hertz) + 2, height - 2);
    context.textAlign = "right";
    for (const db of [-90, -60, -30]) context.fillText(formatDb(db, { digits: 0 }), width - 1, y(db, 1000) - 2);
  });

  const select = "h-5.5 min-w-0 text-label";
  return (
    <>
      <canvas
        ref={canvas}
        role="img"
        aria-label="Spectrum of what is heard: average in ink, highest in grey"
        className={`w-full ${size === "small" ? "h-20" : size === "medium" ? "h-32" : HISTORY_RANGES.tall}`}
      />
      <div className="mt-1 flex gap-1">
        <Select
          label="Bands of the spectrum"
          value={resolution}
          options={RESOLUTIONS}
          words={(one) => (one === "FFT" ? one : `${one} oct`)}
          onChange={setResolution}
          className={select}
        />
        <Select
          label="What the spectrum is of"
          value={ofName}
          options={[...sources.keys()]}
          onChange={setOfName}
          className={`${select} flex-1`}
        />
        <Select
          label="Spectral tilt"
          title="Drawn steeper, dB an octave: pink noise lies flat at 3"
          value={tilt}
          options={TILTS}
          words={(one) => (one === 0 ? "flat" : `+${one}`)}
          onChange={setTilt}
          className={select}
        />
      </div>
      <div className="mt-0.5 flex items-center gap-1 text-label">
        <label className="flex items-center gap-1 text-soft">
          <input
            type="checkbox"
            checked={held}
            onChange={(event) => setHeld(event.target.checked)}
            className="accent-act"
          />
          peak hold
        </label>
        <button type="button" className="text-act hover:underline" onClick={() => (memory.current = null)}>
          reset
        </button>
        <button
          type="button"
          disabled={frozen.length >= MOST_FROZEN}
          className="ml-auto flex items-center gap-0.5 text-act hover:underline disabled:text-soft"
          title="Keeps the average as a dashed line"
          onClick={() => {
            const average = memory.current?.average;
            if (average)
              setFrozen([...frozen, { name: `frozen ${frozen.length + 1}`, levels: average.slice(), resolution }]);
          }}
        >
          <Snowflake size={11} /> freeze
        </button>
      </div>
      {frozen.map((one, i) => (
        <div key={i} className="flex items-center gap-1 text-label">
          <svg width="22" height="4" aria-hidden>
            <line
              x1="0"
              x2="22"
              y1="2"
              y2="2"
              stroke="currentColor"
              strokeDasharray={FROZEN_DASHES[i % FROZEN_DASHES.length]!.join(" ")}
            />
          </svg>
          <input
            aria-label={`Name of frozen spectrum ${i + 1}`}
            value={one.name}
            onChange={(event) =>
              setFrozen(frozen.map((other) => (other === one ? { ...one, name: event.target.value } : other)))
            }
            className="h-5 min-w-0 flex-1 border-b border-hair bg-transparent"
          />
          <IconButton label={`Remove ${one.name}`} onClick={() => setFrozen(frozen.filter((other) => other !== one))}>
            <X size={11} />
          </IconButton>
        </div>
      ))}
    </>
  );
}
