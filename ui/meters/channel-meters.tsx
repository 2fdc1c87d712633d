"use client";

import { useRef } from "react";
import { formatDb } from "@core/audio/format";
import { correlationColour } from "@ui/canvas/scales";
import type { MeterSize } from "./arrangement";
import { Bar, moveBar, setText, share, useBar, type Scale } from "./bar";
import { Highest } from "./loudness-meters";
import { FIGURES_EVERY_MS, useMeterFrames, useMeterSource } from "./meter-source";
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
  useMeterFrames(() => {
    const { nowDb, heldDb, rmsDb } = ring()?.channel(channel) ?? {
      nowDb: -Infinity,
      heldDb: -Infinity,
      rmsDb: -Infinity,
    };
    const line = limit ?? 0;
    const ink = scheme && (nowDb > line ? scheme.over : nowDb > line - scheme.nearDb ? scheme.near : scheme.low);
    moveBar(peak, nowDb, PEAK, { held: heldDb, shown: formatDb(heldDb), ink });
    if (rms.current) rms.current.style.transform = `scaleX(${share(rmsDb, PEAK)})`;
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
            <span
              ref={rms}
              className="absolute inset-0 origin-left bg-soft will-change-transform"
              style={{ transform: "scaleX(0)" }}
            />
          </span>
        </div>
      )}
    </div>
  );
}

/** As wide as its scale, so that it is moved without a layout. */
const NEEDLE = "absolute inset-x-0 -top-1 border-l-2 border-ink will-change-transform";

function moveNeedle(needle: HTMLElement | null, at: number): void {
  if (needle) needle.style.transform = `translateX(${100 * at}%)`;
}

export function CorrelationMeter() {
  const { ring, speakers } = useMeterSource();
  const needle = useRef<HTMLDivElement>(null);
  const text = useRef<HTMLSpanElement>(null);
  const aware = useRef<HTMLSpanElement>(null);
  useMeterFrames(() => {
    const plain = ring()?.meter("correlation") ?? NaN;
    moveNeedle(needle.current, Number.isFinite(plain) ? (plain + 1) / 2 : 0.5);
  });
  useMeterFrames(() => {
    const now = ring();
    const plain = now?.meter("correlation") ?? NaN;
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
  }, FIGURES_EVERY_MS);
  return (
    <>
      <div
        className="relative mt-1 h-3 rounded-[2px] [overflow-x:clip]"
        style={{ background: "linear-gradient(90deg, #c2571a, #efe9d9 50%, #2a5fb0)" }}
      >
        <div
          ref={needle}
          data-meter="correlation"
          className={`${NEEDLE} h-5`}
          style={{ transform: "translateX(50%)" }}
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
  useMeterFrames(() => {
    const db = ring()?.meter("balanceDb") ?? NaN;
    moveNeedle(needle.current, Number.isFinite(db) ? share(db, { low: -BALANCE_DB, high: BALANCE_DB }) : 0.5);
  });
  useMeterFrames(() => {
    const db = ring()?.meter("balanceDb") ?? NaN;
    setText(
      text.current,
      !Number.isFinite(db)
        ? "—"
        : Math.abs(db) < 0.05
          ? "even"
          : `${formatDb(Math.abs(db))} dB ${db > 0 ? "right" : "left"}`,
    );
  }, FIGURES_EVERY_MS);
  return (
    <>
      <div className="relative mt-1 h-2.5 bg-grid [overflow-x:clip]">
        <div className="absolute inset-y-0 left-1/2 w-px bg-soft" />
        <div ref={needle} className={`${NEEDLE} h-4.5`} style={{ transform: "translateX(50%)" }} />
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
  useMeterFrames(() => {
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
        context.fillStyle = judged ? correlationColour(correlation) : inks.grid;
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

export function ClockMeter({ size }: { size: MeterSize }) {
  const { ring, words } = useMeterSource();
  const text = useRef<HTMLParagraphElement>(null);
  useMeterFrames(() => setText(text.current, words(ring()?.meter("position") ?? 0)));
  return (
    <p
      ref={text}
      className={`figure ${size === "tall" ? "text-[40px] leading-12" : size === "small" ? "text-[18px]" : "text-[27px] leading-9"}`}
    />
  );
}
