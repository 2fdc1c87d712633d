"use client";

import type { EntryEditing } from "./use-entry";
import { waveshapedSample } from "@core/processors/saturation";

const POINTS = 512;
const ORDERS = [1, 2, 3, 4, 5, 6, 7, 8, 9];
const LEVELS = [0, -6, -12, -18];
const LOWEST_DB = -90;
const SIZE = 150;

/** Levels of the harmonics of a sine of a peak level, dB under its first. */
function harmonicsOf(peakDb: number, settings: { driveDb: number; evenPercent: number }): number[] {
  const peak = 10 ** (peakDb / 20);
  const wave = Array.from({ length: POINTS }, (_, n) =>
    waveshapedSample(peak * Math.sin((2 * Math.PI * n) / POINTS), settings),
  );
  const sizes = ORDERS.map((order) => {
    let [re, im] = [0, 0];
    wave.forEach((v, n) => {
      re += v * Math.cos((2 * Math.PI * order * n) / POINTS);
      im += v * Math.sin((2 * Math.PI * order * n) / POINTS);
    });
    return Math.hypot(re, im);
  });
  return sizes.map((size) => 20 * Math.log10(Math.max(1e-9, size / sizes[0]!)));
}

/** Transfer curve of the waveshaper, and which harmonics a sine gets at the levels of a programme. */
export function Harmonics({ inHand: { settings } }: { inHand: EntryEditing }) {
  const bend = { driveDb: Number(settings["driveDb"]), evenPercent: Number(settings["evenPercent"]) };
  const path = Array.from({ length: 101 }, (_, n) => -1 + n / 50)
    .map(
      (v, n) =>
        `${n ? "L" : "M"}${(SIZE * (v + 1)) / 2} ${(SIZE * (1 - (bend.driveDb === 0 ? v : waveshapedSample(v, bend)))) / 2}`,
    )
    .join("");
  return (
    <div className="flex w-[330px] flex-col gap-2">
      <figure>
        <svg
          role="img"
          aria-label="Transfer curve of the waveshaper"
          viewBox={`0 0 ${SIZE} ${SIZE}`}
          className="h-[150px] border border-grid"
        >
          <line x1={0} y1={SIZE} x2={SIZE} y2={0} stroke="var(--hair)" strokeDasharray="3 3" />
          <path d={path} fill="none" stroke="var(--act)" strokeWidth={2} />
        </svg>
        <figcaption className="text-label text-soft">out over in, ±full scale</figcaption>
      </figure>
      <figure>
        <table className="figure text-label">
          <thead className="text-soft">
            <tr>
              <th className="pr-3 text-left font-normal">a sine at</th>
              {ORDERS.slice(1).map((order) => (
                <th key={order} className="px-1.5 text-right font-normal">
                  {order}.
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {LEVELS.map((level) => (
              <tr key={level} className="border-t border-grid">
                <td className="pr-3">{String(level).replace("-", "−")} dBFS</td>
                {harmonicsOf(level, bend)
                  .slice(1)
                  .map((db, n) => (
                    <td key={n} className={`px-1.5 text-right ${db < LOWEST_DB ? "text-soft" : ""}`}>
                      {bend.driveDb === 0 || db < LOWEST_DB ? "–" : String(Math.round(db)).replace("-", "−")}
                    </td>
                  ))}
              </tr>
            ))}
          </tbody>
        </table>
        <figcaption className="text-label text-soft">
          harmonics in dB under the tone; – is below {String(LOWEST_DB).replace("-", "−")}
        </figcaption>
      </figure>
    </div>
  );
}
