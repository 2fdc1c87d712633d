"use client";

import { levelsAfter } from "@core/delivery/predict-chain";
import { formatDb } from "@core/audio/format";
import { useCurrentItem } from "@ui/state/current-item";
import type { EntryEditing } from "./use-entry";

const LOWEST = -24;
const HIGHEST = 6;
const STEP = 0.5;
const [WIDTH, HEIGHT] = [320, 150];
const BOTTOM = 16;

const place = (db: number): number => (WIDTH * (db - LOWEST)) / (HIGHEST - LOWEST);

/** Where the peaks of the item lie that come into a limiter or a clipper, and what of them would be cut. */
export function Peaks({ inHand }: { inHand: EntryEditing }) {
  const { facts, chain } = useCurrentItem();
  const at = chain.findIndex(({ id }) => id === inHand.entry.id);
  if (!facts || at < 0) return null;
  const { settings } = inHand;
  const ceiling = Number(settings["ceilingDbtp"] ?? settings["ceilingDbfs"]);
  const levels = levelsAfter(facts.figures, facts.curves, chain.slice(0, at), facts.knownLevels);
  const drive = Number(settings["inputDb"] ?? 0);
  const between = settings["ceilingDbtp"] === undefined ? 0 : levels.intersampleDb;
  const counts = new Array<number>((HIGHEST - LOWEST) / STEP).fill(0);
  let [over, heard, highest] = [0, 0, -Infinity];
  for (const value of levels.peakDb) {
    const peak = value + between + drive;
    if (peak === -Infinity) continue;
    heard++;
    if (peak > ceiling) over++;
    highest = Math.max(highest, peak);
    const bin = Math.min(counts.length - 1, Math.floor((peak - LOWEST) / STEP));
    if (bin >= 0) counts[bin]!++;
  }
  const most = Math.max(1, ...counts);
  const words =
    over === 0
      ? `nothing: the highest peak is ${formatDb(highest)} dB, ${formatDb(ceiling - highest)} dB under the ceiling`
      : `${over} of ${heard} steps of 100 ms, by up to ${formatDb(highest - ceiling)} dB`;
  return (
    <figure className="w-[330px]">
      <svg
        role="img"
        aria-label={`What would be cut: ${words}`}
        viewBox={`0 0 ${WIDTH} ${HEIGHT + BOTTOM}`}
        className="w-full"
      >
        {counts.map((count, n) => {
          const db = LOWEST + n * STEP;
          const height = (HEIGHT * count) / most;
          return (
            <rect
              key={db}
              x={place(db)}
              width={WIDTH / counts.length - 0.5}
              y={HEIGHT - height}
              height={height}
              fill={db >= ceiling ? "var(--outside)" : "var(--peak)"}
            />
          );
        })}
        <line x1={0} x2={WIDTH} y1={HEIGHT} y2={HEIGHT} stroke="var(--hair)" />
        <line x1={place(ceiling)} x2={place(ceiling)} y1={0} y2={HEIGHT} stroke="var(--act)" strokeWidth={1.5} />
        {[-24, -18, -12, -6, 0].map((db) => (
          <text key={db} x={place(db)} y={HEIGHT + 12} fontSize={10} className="figure" fill="var(--soft)">
            {String(db).replace("-", "−")}
          </text>
        ))}
      </svg>
      <figcaption className="text-label text-soft">
        peaks that come in, by level{between > 0 ? " between samples" : ""} · would be cut: {words}, estimated
      </figcaption>
    </figure>
  );
}
