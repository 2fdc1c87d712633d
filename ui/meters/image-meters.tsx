"use client";

import { useRef } from "react";
import type { MeterSize } from "./arrangement";
import { HISTORY_RANGES } from "./loudness-meters";
import { useMeterSource } from "./meter-source";
import { useMeterCanvas } from "./use-meter-canvas";

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
    const radius = Math.min(width / 2 - 4, height - 28);
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
        x0 - (radius + 6) * Math.cos(turned * Math.PI),
        Math.max(10, y0 - (radius + 4) * Math.sin(turned * Math.PI)),
      );
    context.textAlign = "left";
    context.fillText("opposed", 0, height - 1);
    context.textAlign = "right";
    context.fillText("opposed", width, height - 1);
  });
  return (
    <canvas
      ref={canvas}
      role="img"
      aria-label="Energy between left and right"
      className={`w-full ${HISTORY_RANGES[size]}`}
    />
  );
}
