"use client";

import { useRef } from "react";
import { formatDb } from "@core/signal/format";
import { correlationInk } from "@ui/programme/scales";
import type { MeterSize } from "./arrangement";
import { Bar, moveBar, setText, useBar, type Scale } from "./bar";
import { HEIGHTS, Highest } from "./loudness-meters";
import { useFrames, useMeterSource } from "./meter-source";
import { useMeterCanvas } from "./use-meter-canvas";

const PEAK: Scale = { low: -60, high: 3 };
/** More channels than this have thin bars. */
const THIN_FROM = 3;

/** True peak of each channel with hold, and its RMS under it. */
export function PeakMeter({ size }: { size: MeterSize }) {
  const { speakers } = useMeterSource();
  const told = (level: number) => formatDb(level);
  return (
    <>
      {speakers.map(({ label }, channel) => (
        <ChannelBars
          key={label}
          label={label}
          channel={channel}
          thin={size === "small" || speakers.length >= THIN_FROM}
          withRms={size !== "small"}
        />
      ))}
      <dl className="figure mt-1 grid grid-cols-[1fr_auto_auto] gap-x-2 text-label">
        <Highest name="highest" level="truePeakMax" frame="truePeakFrame" told={told} />
      </dl>
    </>
  );
}

function ChannelBars({
  label,
  channel,
  thin,
  withRms,
}: {
  label: string;
  channel: number;
  thin: boolean;
  withRms: boolean;
}) {
  const { ring, spec, scheme } = useMeterSource();
  const limit = spec?.limits.find(({ figure }) => figure === "truePeakDbtp")?.max;
  const peak = useBar();
  const rms = useRef<HTMLSpanElement>(null);
  useFrames(() => {
    const { nowDb, heldDb, rmsDb } = ring()?.channel(channel) ?? {
      nowDb: -Infinity,
      heldDb: -Infinity,
      rmsDb: -Infinity,
    };
    const line = limit ?? 0;
    const ink = scheme && (nowDb > line ? scheme.over : nowDb > line - scheme.nearDb ? scheme.near : scheme.low);
    moveBar(peak, nowDb, PEAK, { held: heldDb, shown: formatDb(heldDb), ink });
    if (rms.current)
      rms.current.style.width = `${Math.max(0, Math.min(100, ((rmsDb - PEAK.low) / (PEAK.high - PEAK.low)) * 100))}%`;
  });
  return (
    <div>
      <Bar
        parts={peak}
        name={label}
        label={`True peak ${label}, dBTP`}
        meter={`peak-${channel}`}
        scale={PEAK}
        mark={limit}
        thin={thin}
      />
      {withRms && (
        <div className="grid grid-cols-[30px_1fr_46px] gap-1">
          <span />
          <span className="relative mb-0.5 block h-0.5 bg-grid">
            <span ref={rms} className="absolute inset-y-0 left-0 bg-soft" style={{ width: "0%" }} />
          </span>
        </div>
      )}
    </div>
  );
}

export function CorrelationMeter() {
  const { ring, speakers } = useMeterSource();
  const needle = useRef<HTMLDivElement>(null);
  const text = useRef<HTMLSpanElement>(null);
  const aware = useRef<HTMLSpanElement>(null);
  useFrames(() => {
    const now = ring();
    const plain = now?.meter("correlation") ?? NaN;
    if (needle.current) needle.current.style.left = `${Number.isFinite(plain) ? ((plain + 1) / 2) * 100 : 50}%`;
    setText(text.current, Number.isFinite(plain) ? formatDb(plain, { sign: true, digits: 2 }) : "—");
    const balance = now?.meter("balanceDb") ?? NaN;
    setText(
      aware.current,
      !Number.isFinite(plain)
        ? "nothing is heard"
        : Math.abs(balance) <= JUDGED_WITHIN_DB
          ? "judged"
          : "not judged: one side is nearly silent",
    );
  });
  return (
    <>
      <div
        className="relative mt-1 h-3 rounded-[2px]"
        style={{ background: "linear-gradient(90deg, #c2571a, #efe9d9 50%, #2a5fb0)" }}
      >
        <div
          ref={needle}
          data-meter="correlation"
          className="absolute -top-1 h-5 w-0.5 bg-ink"
          style={{ left: "50%" }}
        />
      </div>
      <div className="figure mt-1 flex justify-between text-label text-soft">
        <span>−1 opposed</span>
        <span ref={text} data-meter="correlation-text">
          —
        </span>
        <span>+1 together</span>
      </div>
      <p className="text-label text-soft">
        <span ref={aware} /> · {speakers.length > 2 ? "of the fold-down" : "of the sides"}, 400 ms
      </p>
    </>
  );
}

/** A pair is judged while its sides are within this of each other. */
const JUDGED_WITHIN_DB = 20;
const BALANCE_DB = 12;

/** Which side is louder. */
export function BalanceMeter() {
  const { ring } = useMeterSource();
  const needle = useRef<HTMLDivElement>(null);
  const text = useRef<HTMLSpanElement>(null);
  useFrames(() => {
    const db = ring()?.meter("balanceDb") ?? NaN;
    const at = Number.isFinite(db) ? Math.max(-1, Math.min(1, db / BALANCE_DB)) : 0;
    if (needle.current) needle.current.style.left = `${50 + 50 * at}%`;
    setText(
      text.current,
      !Number.isFinite(db)
        ? "—"
        : Math.abs(db) < 0.05
          ? "even"
          : `${formatDb(Math.abs(db))} dB ${db > 0 ? "right" : "left"}`,
    );
  });
  return (
    <>
      <div className="relative mt-1 h-2.5 bg-grid">
        <div className="absolute inset-y-0 left-1/2 w-px bg-soft" />
        <div ref={needle} className="absolute -top-1 h-4.5 w-0.5 bg-ink" style={{ left: "50%" }} />
      </div>
      <div className="figure mt-1 flex justify-between text-label text-soft">
        <span>left</span>
        <span ref={text} data-meter="balance-text">
          —
        </span>
        <span>right</span>
      </div>
    </>
  );
}

const REDUCTION: Scale = { low: 0, high: 12 };

export function ReductionMeter() {
  const { ring } = useMeterSource();
  const bar = useBar();
  useFrames(() => {
    const db = ring()?.meter("reductionDb") ?? 0;
    moveBar(bar, db, REDUCTION, { shown: formatDb(db === 0 ? 0 : -db) });
  });
  return (
    <Bar
      parts={bar}
      name=""
      label="Gain reduction, dB"
      meter="reduction"
      scale={REDUCTION}
      fromRight
      hint="How much the chain's limiters take off at the moment; 12 dB wide"
    />
  );
}

/** All pairs as a matrix of inks; those of nearly silent channels are left pale. */
export function PairsMeter({ size }: { size: MeterSize }) {
  const { ring, speakers } = useMeterSource();
  const worst = useRef<HTMLParagraphElement>(null);
  const used = speakers.flatMap(({ lfe }, channel) => (lfe ? [] : [channel]));
  const canvas = useMeterCanvas((context, { width, height }, inks) => {
    const now = ring();
    const cell = Math.min(width, height) / used.length;
    let lowest = { value: 2, words: "" };
    used.forEach((a, row) =>
      used.forEach((b, column) => {
        if (column >= row) return;
        const correlation = now?.pair(a, b) ?? NaN;
        const [one, other] = [now?.channel(a).rmsDb ?? -Infinity, now?.channel(b).rmsDb ?? -Infinity];
        const judged = Number.isFinite(correlation) && Math.abs(one - other) <= JUDGED_WITHIN_DB;
        context.fillStyle = judged ? correlationInk(correlation) : inks.grid;
        context.fillRect(column * cell, row * cell, cell - 1, cell - 1);
        if (judged && correlation < lowest.value)
          lowest = { value: correlation, words: `${speakers[b]!.label} ${speakers[a]!.label}` };
      }),
    );
    context.fillStyle = inks.soft;
    context.font = '9px "Atkinson Hyperlegible Mono Variable", monospace';
    context.textBaseline = "middle";
    context.textAlign = "left";
    if (cell >= 8)
      used.forEach((channel, i) => context.fillText(speakers[channel]!.label, (i + 0.1) * cell, (i + 0.5) * cell));
    setText(
      worst.current,
      lowest.value > 1
        ? "no pair sounds"
        : `most opposed: ${lowest.words} ${formatDb(lowest.value, { sign: true, digits: 2 })}`,
    );
  });
  if (used.length < 2) return <p className="text-label text-soft">One channel has no pairs.</p>;
  return (
    <>
      <canvas
        ref={canvas}
        role="img"
        aria-label="Correlation of all pairs of channels"
        className={`w-full ${size === "small" ? "h-28" : "h-48"}`}
      />
      <p ref={worst} className="figure text-label text-soft" />
    </>
  );
}

const RADIANS = Math.PI / 180;
/** Steps of the history of directions. */
const PAST = 150;

/** Where the energy comes from now, seen from above, and lately. */
export function DirectionsMeter({ size }: { size: MeterSize }) {
  const { ring, speakers } = useMeterSource();
  const past = useRef<number[]>([]);
  const canvas = useMeterCanvas((context, { width, height }, inks) => {
    const now = ring();
    const powers = speakers.map(({ lfe }, c) => (lfe ? 0 : 10 ** ((now?.channel(c).rmsDb ?? -Infinity) / 10)));
    const total = powers.reduce((sum, power) => sum + power, 0);
    let [front, left] = [0, 0];
    speakers.forEach(({ azimuth, elevation }, c) => {
      const flat = Math.cos(elevation * RADIANS) * powers[c]!;
      front += flat * Math.cos(azimuth * RADIANS);
      left += flat * Math.sin(azimuth * RADIANS);
    });
    const radius = Math.min(width, height * 0.72) / 2 - 8;
    const [x0, y0] = [width / 2, radius + 6];
    context.strokeStyle = inks.hair;
    context.lineWidth = 1;
    context.beginPath();
    context.arc(x0, y0, radius, 0, 2 * Math.PI);
    context.stroke();
    speakers.forEach(({ azimuth, elevation, lfe }, c) => {
      if (lfe) return;
      const reach = radius * (elevation > 20 ? 0.7 : 1);
      const level = total > 0 ? Math.sqrt(powers[c]! / total) : 0;
      context.fillStyle = level > 0 ? inks.ink : inks.hair;
      context.beginPath();
      context.arc(
        x0 - reach * Math.sin(azimuth * RADIANS),
        y0 - reach * Math.cos(azimuth * RADIANS),
        1.5 + 6 * level,
        0,
        2 * Math.PI,
      );
      context.fill();
    });
    if (total > 1e-10) {
      context.strokeStyle = inks.act;
      context.lineWidth = 2;
      context.beginPath();
      context.moveTo(x0, y0);
      context.lineTo(x0 - (radius * left) / total, y0 - (radius * front) / total);
      context.stroke();
      if (now?.playing) past.current.push(Math.atan2(left, front) / RADIANS);
      if (past.current.length > PAST) past.current.shift();
    }
    // Lately: from the left over the front to the right, the newest at the bottom.
    const top = 2 * radius + 14;
    context.fillStyle = inks.grid;
    context.fillRect(0, top, width, height - top);
    context.fillStyle = inks.ink;
    past.current.forEach((azimuth, i) => {
      const y = height - ((past.current.length - i) / PAST) * (height - top);
      context.fillRect(((180 - azimuth) / 360) * width - 1, y, 3, 1);
    });
  });
  return (
    <>
      <canvas
        ref={canvas}
        role="img"
        aria-label="Direction of the energy, seen from above"
        className={`w-full ${size === "tall" ? "h-64" : "h-48"}`}
      />
      <p className="flex justify-between text-label text-soft">
        <span>behind</span>
        <span>left · front · right</span>
        <span>behind</span>
      </p>
    </>
  );
}

const FAN_FRAMES = 4096;
const FAN_STEPS = 60;

/** Between left and right: the energy of the last moment by direction, as a fan; opposed sides lie outside. */
export function ImageMeter({ size }: { size: MeterSize }) {
  const { ring } = useMeterSource();
  const left = useRef(new Float32Array(FAN_FRAMES));
  const right = useRef(new Float32Array(FAN_FRAMES));
  const shown = useRef(new Float32Array(FAN_STEPS));
  const canvas = useMeterCanvas((context, { width, height }, inks) => {
    const now = ring();
    const fan = new Float32Array(FAN_STEPS);
    if (now?.playing) {
      now.take(0, (now.read - FAN_FRAMES) | 0, left.current);
      now.take(1, (now.read - FAN_FRAMES) | 0, right.current);
      for (let i = 0; i < FAN_FRAMES; i++) {
        const [l, r] = [left.current[i]!, right.current[i]!];
        const energy = l * l + r * r;
        // 0 is opposed to the left, a quarter is left, a half the middle, three quarters right.
        const angle = Math.atan2(l + r, r - l) / Math.PI;
        const turned = 1 - (angle < 0 ? angle + 1 : angle);
        fan[Math.min(FAN_STEPS - 1, Math.floor(turned * FAN_STEPS))]! += energy;
      }
    }
    const most = fan.reduce((max, energy) => Math.max(max, energy), 1e-6);
    const [x0, y0] = [width / 2, height - 12];
    const radius = Math.min(width / 2 - 4, height - 16);
    context.strokeStyle = inks.hair;
    context.lineWidth = 1;
    for (const turned of [0.25, 0.5, 0.75]) {
      context.beginPath();
      context.moveTo(x0, y0);
      context.lineTo(x0 - radius * Math.cos(turned * Math.PI), y0 - radius * Math.sin(turned * Math.PI));
      context.stroke();
    }
    context.fillStyle = inks.ink;
    for (let step = 0; step < FAN_STEPS; step++) {
      const target = Math.sqrt(fan[step]! / most);
      const before = shown.current[step]!;
      const reach = (shown.current[step] = before + (target - before) * (target > before ? 0.5 : 0.15));
      if (reach < 0.01) continue;
      const [from, to] = [(step / FAN_STEPS) * Math.PI, ((step + 1) / FAN_STEPS) * Math.PI];
      context.beginPath();
      context.moveTo(x0, y0);
      context.lineTo(x0 - reach * radius * Math.cos(from), y0 - reach * radius * Math.sin(from));
      context.lineTo(x0 - reach * radius * Math.cos(to), y0 - reach * radius * Math.sin(to));
      context.fill();
    }
    context.fillStyle = inks.soft;
    context.font = '11px "Atkinson Hyperlegible Next Variable", sans-serif';
    context.textBaseline = "alphabetic";
    context.textAlign = "center";
    for (const [word, turned] of [
      ["L", 0.25],
      ["middle", 0.5],
      ["R", 0.75],
    ] as const)
      context.fillText(
        word,
        x0 - (radius - 2) * Math.cos(turned * Math.PI),
        Math.max(10, y0 - (radius - 2) * Math.sin(turned * Math.PI)),
      );
    context.textAlign = "left";
    context.fillText("opposed", 0, height - 1);
    context.textAlign = "right";
    context.fillText("opposed", width, height - 1);
  });
  return (
    <canvas ref={canvas} role="img" aria-label="Energy between left and right" className={`w-full ${HEIGHTS[size]}`} />
  );
}

export function ClockMeter({ size }: { size: MeterSize }) {
  const { ring, words } = useMeterSource();
  const text = useRef<HTMLParagraphElement>(null);
  useFrames(() => setText(text.current, words(ring()?.meter("position") ?? 0)));
  return (
    <p
      ref={text}
      className={`figure ${size === "tall" ? "text-[40px] leading-12" : size === "small" ? "text-[18px]" : "text-[27px] leading-9"}`}
    />
  );
}
