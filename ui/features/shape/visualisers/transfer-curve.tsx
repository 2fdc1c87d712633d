"use client";

import type { CompressionCurve } from "@core/dsp/dynamics";
import type { Decibels } from "@core/audio/units";
import { useCurrentItem } from "@ui/state/current-item";
import { processorNamed } from "@core/processors";
import type { VisualiserProps } from "./visualiser-props";

const LOWEST: Decibels = -72;
const TICKS = [-60, -48, -36, -24, -12, 0];
const SIZE = 230;
const LEFT = 26;

const place = (db: Decibels): number => (SIZE * (db - LOWEST)) / -LOWEST;

/** Where the level of the item lies: share of its 100 ms steps by peak level, in steps of 2 dB. */
function useLevelShares(): { db: Decibels; share: number }[] {
  const { facts } = useCurrentItem();
  const peaks = facts?.curves.samplePeakDbfs.values;
  if (!peaks || peaks.length === 0) return [];
  const counts = new Array<number>(-LOWEST / 2).fill(0);
  for (const peak of peaks) {
    const bin = Math.floor((peak - LOWEST) / 2);
    if (bin >= 0 && bin < counts.length) counts[bin]!++;
  }
  const most = Math.max(1, ...counts);
  return counts.map((count, n) => ({ db: LOWEST + 2 * n, share: count / most }));
}

/** Output over input, with the levels that the item has laid under it. */
export function TransferCurve({
  curve,
  makeUpDb,
  label,
}: {
  curve: CompressionCurve;
  makeUpDb: Decibels;
  label: string;
}) {
  const shares = useLevelShares();
  const points = Array.from({ length: 145 }, (_, n) => LOWEST + n / 2).map((input): [number, number] => [
    LEFT + place(input),
    SIZE - place(Math.max(LOWEST, Math.min(0, input - curve(input) + makeUpDb))),
  ]);
  return (
    <figure>
      <svg
        role="img"
        aria-label={label}
        viewBox={`0 -6 ${SIZE + LEFT + 8} ${SIZE + 22}`}
        className="h-full max-h-[200px] w-full max-w-[300px]"
      >
        {shares.map(({ db, share }) => (
          <rect
            key={db}
            x={LEFT + place(db)}
            width={SIZE / 37}
            y={SIZE - 90 * share}
            height={90 * share}
            fill="var(--grid)"
          />
        ))}
        {TICKS.map((db) => (
          <g key={db}>
            <line x1={LEFT + place(db)} x2={LEFT + place(db)} y1={0} y2={SIZE} stroke="var(--grid)" />
            <line x1={LEFT} x2={LEFT + SIZE} y1={SIZE - place(db)} y2={SIZE - place(db)} stroke="var(--grid)" />
            <text
              x={LEFT + place(db)}
              y={SIZE + 12}
              textAnchor="middle"
              className="figure"
              fontSize={10}
              fill="var(--soft)"
            >
              {String(db).replace("-", "−")}
            </text>
            <text
              x={LEFT - 4}
              y={SIZE - place(db) + 3}
              textAnchor="end"
              className="figure"
              fontSize={10}
              fill="var(--soft)"
            >
              {String(db).replace("-", "−")}
            </text>
          </g>
        ))}
        <line x1={LEFT} y1={SIZE} x2={LEFT + SIZE} y2={0} stroke="var(--hair)" strokeDasharray="3 3" />
        <polyline
          points={points.map((point) => point.join(",")).join(" ")}
          fill="none"
          stroke="var(--act)"
          strokeWidth={2}
        />
      </svg>
      <figcaption className="text-label text-soft">
        out over in, dBFS · grey: how often the item’s peaks lie there
      </figcaption>
    </figure>
  );
}

/** That of the processor in hand. */
export const ProcessorCurve = ({ inHand: { entry, settings }, visualiser }: VisualiserProps<"transfer curve">) => (
  <TransferCurve
    label={`Transfer curve of the ${processorNamed(entry.type).name.toLowerCase()}`}
    curve={visualiser.curve(settings)}
    makeUpDb={visualiser.makeUpDb?.(settings) ?? 0}
  />
);
