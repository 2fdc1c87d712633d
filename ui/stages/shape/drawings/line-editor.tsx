"use client";

import { useRef, useState, type PointerEvent } from "react";
import { duckerLine, type DuckerSettings } from "@core/process/ducker";
import { levellerLine, type LevellerSettings } from "@core/process/leveller";
import type { Point } from "@core/process/parameter";
import { lineAt } from "@core/process/points";
import { levelsOf, predictChain } from "@core/render/predict";
import { formatDb, formatTime } from "@core/signal/format";
import { OverviewData } from "@ui/programme/overview-data";
import { blobUrl } from "@ui/shared/api";
import { Button } from "@ui/shared/button";
import { useDesk } from "@ui/workspace/desk";
import { useInHand } from "@ui/workspace/in-hand";
import type { EntryInHand } from "../use-entry";

const WIDTH = 1000;
const HEIGHT = 150;
const LOUDNESS_FLOOR = -60;
const NEAR_PX = 12;

/** The line of a leveller or a ducker over the loudness of the item: worked out, and drawn over point by point. */
export function LineEditor({ inHand }: { inHand: EntryInHand }) {
  const { facts, chain, view } = useInHand();
  const window_ = useDesk((desk) => desk.view);
  const line = inHand.settings["line"] as Point[];
  const at = chain.findIndex(({ id }) => id === inHand.entry.id);
  const held = useRef<{ line: Point[]; index: number } | null>(null);
  const [other, setOther] = useState("");
  if (!facts) return null;
  const before = predictChain(levelsOf(facts.figures, facts.curves), chain.slice(0, Math.max(0, at)));
  const [from, to] = window_ ? [window_.start, window_.end] : [0, facts.duration];
  const x = (seconds: number) => (WIDTH * (seconds - from)) / (to - from);
  const reach = Math.max(6, ...line.map(([, db]) => Math.abs(db) + 1));
  const y = (db: number) => (HEIGHT / 2) * (1 - db / reach);
  const isDucker = inHand.entry.type === "ducker";

  const place = (event: PointerEvent<SVGSVGElement>): Point => {
    const box = event.currentTarget.getBoundingClientRect();
    const seconds = from + ((event.clientX - box.left) / box.width) * (to - from);
    const db = reach * (1 - (2 * (event.clientY - box.top)) / box.height);
    return [Math.max(0, Number(seconds.toFixed(2))), Number(Math.max(-60, Math.min(24, db)).toFixed(1))];
  };
  const take = (event: PointerEvent<SVGSVGElement>) => {
    const [seconds, db] = place(event);
    const box = event.currentTarget.getBoundingClientRect();
    const near = (NEAR_PX / box.width) * (to - from);
    const index = line.findIndex(([t]) => Math.abs(t - seconds) < near);
    if (event.altKey && index >= 0)
      return void inHand.commit(
        "line",
        line.filter((_, i) => i !== index),
      );
    event.currentTarget.setPointerCapture(event.pointerId);
    const next: Point[] = index >= 0 ? [...line] : [...line, [seconds, db] as Point].sort(([a], [b]) => a - b);
    held.current = { line: next, index: index >= 0 ? index : next.findIndex(([t]) => t === seconds) };
  };
  const drag = (event: PointerEvent<SVGSVGElement>) => {
    const now = held.current;
    if (!now) return;
    const [seconds, db] = place(event);
    const low = now.line[now.index - 1]?.[0] ?? -0.02;
    const high = now.line[now.index + 1]?.[0] ?? Infinity;
    const moved: Point = [Number(Math.max(low + 0.01, Math.min(high - 0.01, seconds)).toFixed(2)), db];
    now.line = now.line.map((point, i) => (i === now.index ? moved : point));
    inHand.move("line", now.line);
  };
  const drop = () => {
    if (held.current) void inHand.commit("line", held.current.line);
    held.current = null;
  };
  const workOut = async () => {
    if (!isDucker) return inHand.commit("line", levellerLine(before, inHand.settings as unknown as LevellerSettings));
    const item = view.document.items.find(({ id }) => id === other);
    const source = view.sources.find(({ hash }) => hash === item?.source);
    if (!source?.overview_hash) return;
    const data = await OverviewData.open(blobUrl(source.overview_hash), blobUrl(source.pcm_hash!), () => {});
    const { momentaryLufs } = data.curves;
    return inHand.commit("line", duckerLine(momentaryLufs.values, inHand.settings as unknown as DuckerSettings));
  };
  const loudness = loudnessPath(before.momentaryLufs, from, to);
  const shown = line.filter(([t]) => t >= from && t <= to);
  const path = [from, ...shown.map(([t]) => t), to]
    .map((t, n) => `${n ? "L" : "M"}${x(t).toFixed(1)} ${y(lineAt(line, t)).toFixed(1)}`)
    .join("");
  return (
    <div className="flex h-full flex-col px-3 py-2">
      <div className="flex flex-wrap items-center gap-2 pb-1">
        {isDucker && (
          <select
            aria-label="Goes down while this item sounds"
            value={other}
            onChange={(event) => setOther(event.target.value)}
            className="h-7 rounded-[4px] border border-hair bg-sheet px-1"
          >
            <option value="">while which item sounds?</option>
            {view.document.items
              .filter(({ id }) => id !== facts.item.id)
              .map(({ id, name }) => (
                <option key={id} value={id}>
                  {name}
                </option>
              ))}
          </select>
        )}
        <Button
          kind={line.length === 0 ? "main" : "plain"}
          disabled={isDucker && other === ""}
          onClick={() => void workOut()}
        >
          {line.length === 0 ? "Work out the line" : "Work it out anew"}
        </Button>
        <Button disabled={line.length === 0} onClick={() => void inHand.commit("line", [])}>
          No line
        </Button>
        <span className="text-label text-soft">
          {line.length === 0
            ? "No line yet: nothing is changed."
            : `${line.length} points, ${formatDb(Math.min(...line.map(([, db]) => db)), { sign: true })} to ${formatDb(Math.max(...line.map(([, db]) => db)), { sign: true })} dB. Drag points, click for new ones, Alt click takes one away.`}
        </span>
      </div>
      <svg
        role="group"
        aria-label="Gain line"
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        preserveAspectRatio="none"
        className="min-h-[120px] w-full flex-1 touch-none select-none border border-grid bg-sheet"
        onPointerDown={take}
        onPointerMove={drag}
        onPointerUp={drop}
        onPointerCancel={drop}
      >
        <path d={loudness} fill="var(--grid)" />
        <line
          x1={0}
          x2={WIDTH}
          y1={HEIGHT / 2}
          y2={HEIGHT / 2}
          stroke="var(--hair)"
          vectorEffect="non-scaling-stroke"
        />
        <path d={path} fill="none" stroke="var(--act)" strokeWidth={2} vectorEffect="non-scaling-stroke" />
        {shown.length < 120 &&
          shown.map(([t, db]) => (
            <rect
              key={t}
              x={x(t) - 2.5}
              y={y(db) - 2.5}
              width={5}
              height={5}
              fill="var(--sheet)"
              stroke="var(--act)"
              vectorEffect="non-scaling-stroke"
            />
          ))}
      </svg>
      <p className="figure flex justify-between text-label text-soft">
        <span>{formatTime(from)}</span>
        <span>grey: momentary loudness before it · blue: gain, ±{reach.toFixed(0)} dB</span>
        <span>{formatTime(to)}</span>
      </p>
    </div>
  );
}

function loudnessPath(momentary: Float32Array, from: number, to: number): string {
  const [first, last] = [Math.floor(from * 10), Math.min(momentary.length, Math.ceil(to * 10))];
  const step = Math.max(1, Math.floor((last - first) / WIDTH));
  let path = `M0 ${HEIGHT}`;
  for (let i = first; i < last; i += step) {
    const lufs = Math.max(LOUDNESS_FLOOR, momentary[i] ?? LOUDNESS_FLOOR);
    path += `L${((WIDTH * (i - first)) / (last - first)).toFixed(1)} ${(HEIGHT * (lufs / LOUDNESS_FLOOR)).toFixed(1)}`;
  }
  return `${path}L${WIDTH} ${HEIGHT}Z`;
}
