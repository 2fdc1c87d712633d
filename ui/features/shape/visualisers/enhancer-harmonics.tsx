"use client";

import { useMemo } from "react";
import { enhancer } from "@core/processors/enhancer";
import { formatHertz } from "@core/audio/format";
import { layoutNamed } from "@core/audio/layout";
import type { EntryEditing } from "./use-entry";

const RATE = 48_000;
const LEVEL_DB = -12;
const ORDERS = [1, 2, 3, 4, 5];
const LOWEST_DB = -80;
/** The filters have settled; whole seconds, so that every whole frequency fits. */
const [FROM, COUNT] = [RATE / 2, RATE];

/** Levels at the multiples of a tone that went through the enhancer, dB against the tone as it came. */
function harmonicsOf(settings: EntryEditing["settings"], hertz: number): number[] {
  const tone = Math.round(hertz);
  const processor = enhancer.create(
    settings as Parameters<typeof enhancer.create>[0],
    { sampleRate: RATE, layout: layoutNamed("mono")! },
    0,
  );
  const peak = 10 ** (LEVEL_DB / 20);
  const x = Float32Array.from({ length: FROM + COUNT }, (_, n) => peak * Math.sin((2 * Math.PI * tone * n) / RATE));
  processor.process([x], x.length);
  return ORDERS.map((order) => {
    if (order * tone > RATE / 2) return -Infinity;
    let [re, im] = [0, 0];
    for (let i = 0; i < COUNT; i++) {
      const turn = (2 * Math.PI * order * tone * i) / RATE;
      re += x[FROM + i]! * Math.cos(turn);
      im += x[FROM + i]! * Math.sin(turn);
    }
    return 20 * Math.log10((2 * Math.hypot(re, im)) / COUNT / peak + 1e-9);
  });
}

/** What an enhancer makes of a tone in each of its two ranges: made by the processor itself. */
export function EnhancerHarmonics({ inHand }: { inHand: EntryEditing }) {
  const { settings } = inHand;
  const rows = useMemo(
    () =>
      [Number(settings["lowHz"]) * 0.7, Number(settings["highHz"]) * 1.2].map((hertz) => ({
        hertz: Math.round(hertz),
        levels: harmonicsOf(settings, hertz),
      })),
    [settings],
  );
  return (
    <figure className="w-[330px]">
      <table className="figure w-full text-label">
        <thead className="text-soft">
          <tr className="[&>th]:px-1.5 [&>th]:text-right [&>th]:font-normal">
            <th className="text-left">a tone of</th>
            <th>itself</th>
            {ORDERS.slice(1).map((order) => (
              <th key={order}>{order}.</th>
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map(({ hertz, levels }) => (
            <tr key={hertz} className="border-t border-grid [&>td]:px-1.5 [&>td]:text-right">
              <td>{formatHertz(hertz)}</td>
              {levels.map((db, n) => (
                <td key={n} className={db < LOWEST_DB ? "text-soft" : ""}>
                  {db < LOWEST_DB ? "–" : db.toFixed(0).replace("-", "−")}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <figcaption className="text-label text-soft">
        harmonics in dB against the tone, which comes in at −12 dBFS; – is below −80 or above hearing
      </figcaption>
    </figure>
  );
}
