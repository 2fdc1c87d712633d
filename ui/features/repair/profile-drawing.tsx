"use client";

import { useMemo, useRef, useState, type PointerEvent } from "react";
import { profileDb, withLevel, type NoiseProfile } from "@core/repair/noise-profile";
import { formatDb } from "@core/audio/format";

const WIDTH = 420;
const HEIGHT = 64;
const LOWEST_HZ = 40;

/** A stroke changes this much to each side of the pointer: a sixth of an octave. */
const BRUSH = 2 ** (1 / 12);

/** The noise's spectrum: what is drawn here is what is taken for noise. A stroke gives it another level. */
export function ProfileDrawing({
  profile: kept,
  onEdit,
}: {
  profile: NoiseProfile;
  onEdit: (profile: NoiseProfile, what: string) => void;
}) {
  const [drawn, setDrawn] = useState<NoiseProfile | null>(null);
  const last = useRef<number | null>(null);
  const profile = drawn ?? kept;
  const { paths, low, high } = useMemo(() => {
    const curves = profile.levels.map((_, c) => profileDb(profile, c));
    const all = curves.flatMap((curve) => [...curve]).filter((db) => db > -164);
    const [least, most] = [Math.floor(Math.min(...all) / 10) * 10, Math.ceil(Math.max(...all) / 10) * 10];
    const nyquist = profile.sampleRate / 2;
    const x = (hertz: number) =>
      (Math.log(Math.max(hertz, LOWEST_HZ) / LOWEST_HZ) / Math.log(nyquist / LOWEST_HZ)) * WIDTH;
    const y = (db: number) => HEIGHT - ((Math.max(db, least) - least) / Math.max(10, most - least)) * HEIGHT;
    return {
      low: least,
      high: most,
      paths: curves.map((curve) =>
        Array.from(
          curve,
          (db, k) => `${k === 0 ? "M" : "L"}${x((k * nyquist) / (curve.length - 1)).toFixed(1)},${y(db).toFixed(1)}`,
        ).join(""),
      ),
    };
  }, [profile]);
  const stroke = (event: PointerEvent<SVGSVGElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    const share = Math.max(0, Math.min(1, (event.clientX - box.left) / box.width));
    const hertz = LOWEST_HZ * (profile.sampleRate / 2 / LOWEST_HZ) ** share;
    const db = low + (1 - (event.clientY - box.top) / box.height) * Math.max(10, high - low);
    const from = Math.min(hertz, last.current ?? hertz) / BRUSH;
    const to = Math.max(hertz, last.current ?? hertz) * BRUSH;
    last.current = hertz;
    setDrawn(withLevel(profile, from, to, db));
  };
  return (
    <figure className="pt-1">
      <svg
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        className="h-12 w-full cursor-crosshair touch-none border border-grid"
        preserveAspectRatio="none"
        role="img"
        aria-label="Spectrum of the learned noise; drawing over it changes it"
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          last.current = null;
          stroke(event);
        }}
        onPointerMove={(event) => drawn && stroke(event)}
        onPointerUp={() => {
          if (drawn) onEdit(drawn, "the profile drawn anew");
          setDrawn(null);
        }}
      >
        {paths.map((path, channel) => (
          <path
            key={channel}
            d={path}
            fill="none"
            stroke="var(--ink)"
            strokeOpacity={channel === 0 ? 1 : 0.5}
            vectorEffect="non-scaling-stroke"
          />
        ))}
      </svg>
      <figcaption className="text-label text-soft">
        <span className="figure flex justify-between">
          <span>40 Hz</span>
          <span>
            {formatDb(low, { digits: 0 })} to {formatDb(high, { digits: 0 })} dB
          </span>
          <span>{profile.sampleRate / 2000} kHz</span>
        </span>
        Learned from {profile.seconds.toFixed(2)} s. Draw to change it.
      </figcaption>
    </figure>
  );
}
