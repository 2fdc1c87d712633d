"use client";

import type { Remark } from "@core/review/views";
import { formatTime } from "@core/audio/format";

interface Props {
  outline: readonly number[] | null;
  seconds: number;
  time: number;
  remarks: readonly Remark[];
  onSeek: (seconds: number) => void;
}

const HEIGHT = 100;

/** The outline as a path over and under the middle, one unit a part. */
const pathOf = (outline: readonly number[]): string => {
  const half = (level: number) => (Math.sqrt(level) * HEIGHT) / 2; // quiet places are seen as well
  const over = outline.map((level, i) => `${i},${(HEIGHT / 2 - half(level)).toFixed(1)}`);
  const under = outline.map((level, i) => `${i},${(HEIGHT / 2 + half(level)).toFixed(1)}`).reverse();
  return `M${over.join("L")}L${under.join("L")}Z`;
};

/** A file from its beginning to its end, with what was remarked: pressed where it is to be heard. */
export function Outline({ outline, seconds, time, remarks, onSeek }: Props) {
  const share = seconds > 0 ? time / seconds : 0;
  const width = outline?.length ?? 1;
  const at = (place: number) => `${Math.min(100, (place / seconds) * 100)}%`;
  return (
    <div className="relative h-24 select-none">
      <svg
        viewBox={`0 0 ${width} ${HEIGHT}`}
        preserveAspectRatio="none"
        className="absolute inset-0 size-full bg-band"
        aria-hidden
      >
        {outline && (
          <>
            <clipPath id="heard">
              <rect x={0} y={0} width={width * share} height={HEIGHT} />
            </clipPath>
            <path d={pathOf(outline)} className="fill-soft opacity-50" />
            <path d={pathOf(outline)} className="fill-act" clipPath="url(#heard)" />
          </>
        )}
      </svg>
      {remarks.map(({ id, at_seconds: from, end_seconds: to, resolved_at: resolved }) => (
        <span
          key={id}
          aria-hidden
          className={`absolute top-0 h-full border-l-2 ${resolved ? "border-inside" : "border-close"} ${to === null ? "" : "bg-close/20"}`}
          style={{ left: at(from), width: to === null ? 0 : `calc(${at(to)} - ${at(from)})` }}
        />
      ))}
      <span aria-hidden className="absolute top-0 h-full border-l-2 border-ink" style={{ left: at(time) }} />
      <input
        type="range"
        aria-label="Place in the file"
        aria-valuetext={`${formatTime(time)} of ${formatTime(seconds)}`}
        min={0}
        max={seconds}
        step={0.1}
        value={time}
        onChange={(event) => onSeek(Number(event.target.value))}
        className="absolute inset-0 size-full cursor-pointer opacity-0"
      />
    </div>
  );
}
