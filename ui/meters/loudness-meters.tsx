"use client";

import { useRef } from "react";
import { formatDb } from "@core/audio/format";
import type { DeliverySpec } from "@core/delivery/spec";
import type { MeterName } from "@playback/ring";
import type { MeterSize } from "./arrangement";
import { Bar, moveBar, setText, useBar, type Scale } from "./bar";
import { FIGURES_EVERY_MS, useMeterFrames, useMeterSource } from "./meter-source";
import { useMeterCanvas } from "./use-meter-canvas";

/** What the spec in force aims at; programmes for broadcast where there is none. */
const targetOf = (spec: DeliverySpec | null): number =>
  (spec && (spec.anchor === "programme" || spec.anchor === "dialogue") ? spec.target : null) ??
  spec?.limits.find(({ figure }) => figure === "integratedLufs")?.max ??
  -23;

/** From 18 LU under the target to 9 LU over it. */
const scaleOf = (target: number): Scale => ({ low: target - 18, high: target + 9 });

const WINDOWS: { name: string; meter: MeterName; hint: string }[] = [
  { name: "M", meter: "momentaryLufs", hint: "Momentary, 400 ms" },
  { name: "S", meter: "shortTermLufs", hint: "Short-term, 3 s" },
  { name: "I", meter: "integratedLufs", hint: "Integrated since the meters were started" },
];

export function LoudnessMeter({ size }: { size: MeterSize }) {
  const { ring, spec, scale: unit } = useMeterSource();
  const target = targetOf(spec);
  const scale = scaleOf(target);
  const bars = [useBar(), useBar(), useBar()];
  const big = useRef<HTMLParagraphElement>(null);
  const words = useRef<HTMLParagraphElement>(null);
  const told = (lufs: number) => (unit === "LU" ? formatDb(lufs - target, { sign: true }) : formatDb(lufs));
  const range = useRef<HTMLElement>(null);
  useMeterFrames(() => {
    const now = ring();
    const level = (name: MeterName) => now?.meter(name) ?? -Infinity;
    WINDOWS.forEach(({ meter }, i) => moveBar(bars[i]!, level(meter), scale, { shown: told(level(meter)) }));
  });
  useMeterFrames(() => {
    const now = ring();
    const level = (name: MeterName) => now?.meter(name) ?? -Infinity;
    const shortTerm = level("shortTermLufs");
    setText(big.current, told(shortTerm));
    const away = shortTerm - target;
    setText(
      words.current,
      Number.isFinite(away)
        ? `short-term · ${formatDb(Math.abs(away))} LU ${away < 0 ? "below" : "above"} target`
        : "short-term, of what is heard",
    );
    setText(range.current, Number.isFinite(level("rangeLu")) ? `${formatDb(level("rangeLu"))} LU` : "—");
  }, FIGURES_EVERY_MS);
  return (
    <>
      {size !== "small" && (
        <>
          <p ref={big} className="figure text-[36px] leading-10 font-normal" data-meter="big">
            −∞
          </p>
          <p ref={words} className="text-label text-soft" data-meter="big-words" data-target={target}>
            short-term, of what is heard
          </p>
        </>
      )}
      {WINDOWS.map(({ name, hint }, i) => (
        <Bar
          key={name}
          parts={bars[i]!}
          name={name}
          label={hint}
          meter={name}
          scale={scale}
          mark={target}
          hint={`${hint}; the line is the target, ${formatDb(target)} LUFS`}
        />
      ))}
      <dl className="figure mt-1 grid grid-cols-[1fr_auto_auto] gap-x-2 text-label">
        <dt className="text-soft">range</dt>
        <dd ref={range} className="col-span-2 text-right" data-meter="range">
          —
        </dd>
        {size !== "small" && (
          <>
            <Highest name="max M" level="momentaryMaxLufs" frame="momentaryMaxFrame" told={told} />
            <Highest name="max S" level="shortTermMaxLufs" frame="shortTermMaxFrame" told={told} />
          </>
        )}
      </dl>
    </>
  );
}

/** A highest value with where it was; a click goes there. */
export function Highest({
  name,
  level,
  frame,
  told,
}: {
  name: string;
  level: MeterName;
  frame: MeterName;
  told: (level: number) => string;
}) {
  const { ring, words, goTo } = useMeterSource();
  const shown = useRef<HTMLElement>(null);
  const where = useRef<HTMLButtonElement>(null);
  useMeterFrames(() => {
    const now = ring();
    const value = now?.meter(level) ?? -Infinity;
    setText(shown.current, told(value));
    setText(where.current, value === -Infinity ? "" : words(now!.meter(frame)));
  }, FIGURES_EVERY_MS);
  return (
    <>
      <dt className="text-soft">{name}</dt>
      <dd className="text-right">
        <button
          ref={where}
          type="button"
          aria-label={`Go to where ${name} was`}
          title="Goes there"
          className="text-act hover:underline"
          onClick={() => {
            const now = ring();
            if (now && now.meter(level) > -Infinity) goTo(now.meter(frame));
          }}
        />
      </dd>
      <dd ref={shown} className="min-w-10 text-right" data-meter={level}>
        −∞
      </dd>
    </>
  );
}

/** Steps of the history, and how long one lasts; ms. */
const STEPS = 180;
const STEP_MS = 250;

/** Short-term and momentary of the last while, against the target. */
export function HistoryMeter({ size }: { size: MeterSize }) {
  const { ring, spec } = useMeterSource();
  const target = targetOf(spec);
  const past = useRef<{ momentary: number; shortTerm: number }[]>([]);
  const last = useRef(0);
  const canvas = useMeterCanvas((context, { width, height }, inks) => {
    const now = ring();
    const time = performance.now();
    if (now?.playing && time - last.current >= STEP_MS) {
      last.current = time;
      past.current.push({ momentary: now.meter("momentaryLufs"), shortTerm: now.meter("shortTermLufs") });
      if (past.current.length > STEPS) past.current.shift();
    }
    const { low, high } = scaleOf(target);
    const y = (lufs: number) => height - (Math.max(0, lufs - low) / (high - low)) * height;
    context.fillStyle = inks.band;
    context.fillRect(0, y(target + 1), width, y(target - 1) - y(target + 1));
    for (const [key, ink] of [
      ["momentary", inks.peak],
      ["shortTerm", inks.ink],
    ] as const) {
      context.strokeStyle = ink;
      context.lineWidth = key === "shortTerm" ? 1.6 : 1;
      context.beginPath();
      past.current.forEach((point, i) => {
        const x = width - ((past.current.length - 1 - i) * width) / STEPS;
        if (i === 0) context.moveTo(x, y(point[key]));
        else context.lineTo(x, y(point[key]));
      });
      context.stroke();
    }
  });
  return (
    <>
      <canvas
        ref={canvas}
        role="img"
        aria-label="Loudness of the last 45 seconds"
        className={`w-full ${HISTORY_RANGES[size]}`}
      />
      <p className="text-label text-soft">the last 45 s · band ±1 LU round {formatDb(target)} LUFS</p>
    </>
  );
}

export const HISTORY_RANGES: Record<MeterSize, string> = { small: "h-14", medium: "h-24", tall: "h-44" };
