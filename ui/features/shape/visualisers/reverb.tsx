"use client";

import { useMemo } from "react";
import { ambience } from "@core/processors/ambience";
import { layoutNamed } from "@core/audio/layout";
import type { EntryEditing } from "./use-entry";

/** Enough for a drawing, and quick. */
const RATE = 24_000;
const STEP_SECONDS = 0.005;
const LOWEST_DB = -60;
const [WIDTH, HEIGHT] = [320, 150];

/** How the room answers a click: its level over time, made by the processor itself. */
function answerOf(settings: EntryEditing["settings"], seconds: number): number[] {
  const processor = ambience.create(
    { ...(settings as Parameters<typeof ambience.create>[0]), amountPercent: 100 },
    { sampleRate: RATE, layout: layoutNamed("mono")! },
    0,
  );
  const x = new Float32Array(Math.round(seconds * RATE));
  x[0] = 1;
  processor.process([x], x.length);
  x[0] = 0; // the click itself
  const step = Math.round(STEP_SECONDS * RATE);
  return Array.from({ length: Math.floor(x.length / step) }, (_, n) =>
    x.subarray(n * step, (n + 1) * step).reduce((sum, v) => sum + v * v, 0),
  );
}

export function ReverbDrawing({ inHand }: { inHand: EntryEditing }) {
  const { settings } = inHand;
  const decay = Number(settings["decaySeconds"]);
  const early = Number(settings["earlyMs"]) / 1000;
  const seconds = Math.max(0.3, early + 1.2 * decay);
  const levels = useMemo(() => answerOf(settings, seconds), [settings, seconds]);
  const most = Math.max(1e-20, ...levels);
  const bars = levels.map((power) => Math.max(LOWEST_DB, 10 * Math.log10(power / most + 1e-12)));
  const width = WIDTH / bars.length;
  return (
    <figure className="w-[330px]">
      <svg
        role="img"
        aria-label={`The room sets in after ${(early * 1000).toFixed(0)} ms and dies away in ${decay} s`}
        viewBox={`0 0 ${WIDTH} ${HEIGHT + 16}`}
        className="w-full"
      >
        {bars.map((db, n) => {
          const height = HEIGHT * (1 - db / LOWEST_DB);
          return (
            <rect
              key={n}
              x={n * width}
              width={Math.max(0.5, width - 0.3)}
              y={HEIGHT - height}
              height={height}
              fill="var(--peak)"
            />
          );
        })}
        <line x1={0} x2={WIDTH} y1={HEIGHT} y2={HEIGHT} stroke="var(--hair)" />
        {[0, 0.25, 0.5, 0.75].map((share) => (
          <text key={share} x={share * WIDTH} y={HEIGHT + 12} fontSize={10} className="figure" fill="var(--soft)">
            {(share * seconds).toFixed(seconds < 1 ? 2 : 1)} s
          </text>
        ))}
      </svg>
      <figcaption className="text-label text-soft">
        impulse response, 60 dB from top to bottom; low tones die away last
      </figcaption>
    </figure>
  );
}
