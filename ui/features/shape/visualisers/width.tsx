"use client";

import { useQuery } from "@tanstack/react-query";
import { joinedBands } from "@core/measure/spectrum";
import { sideGain } from "@core/processors/width";
import { SPECTRUM_ROWS, spectrumRow } from "@core/report/drawings";
import { layoutNamed } from "@core/audio/layout";
import type { Hertz } from "@core/audio/units";
import { formatHertz } from "@core/audio/format";
import { measureInBrowser } from "@ui/workers/measuring";
import { useCurrentItem } from "@ui/state/current-item";
import { soundUrl } from "@ui/state/use-range-figures";
import type { EntryEditing } from "./use-entry";

const MIDDLE = [[0.5, 0.5]];
const SIDE = [[0.5, -0.5]];
const [WIDTH, HEIGHT] = [340, 130];
const MOST_DB = 6;
/** More of an item tells no more. */
const LONGEST_SECONDS = 300;

interface Sides {
  hertz: Hertz;
  middle: number;
  side: number;
}

/** Powers of the middle and of the side of the item before its chain, in thirds of an octave. */
function useSides(): { sides: Sides[] | null; problem: string | null } {
  const { facts } = useCurrentItem();
  const { data, error } = useQuery({
    queryKey: ["sides", facts?.source.pcm_hash, facts?.item.repairs, facts?.item.clips],
    enabled: facts?.source.layout?.speakers.length === 2,
    staleTime: Infinity,
    retry: false,
    queryFn: async ({ signal }) => {
      const { source, item, editList, sampleRate } = facts!;
      const spectrumOf = async (fold: number[][]) => {
        const { curves } = await measureInBrowser(
          {
            source: { url: soundUrl(source.pcm_hash!) },
            layout: layoutNamed("mono")!,
            range: { start: 0, end: Math.min(editList.frames, LONGEST_SECONDS * sampleRate) },
            repairs: item.repairs,
            clips: item.clips,
            fold,
          },
          signal,
        );
        return joinedBands(spectrumRow(curves.spectraDbfs, SPECTRUM_ROWS.average), 8);
      };
      const [middle, side] = await Promise.all([spectrumOf(MIDDLE), spectrumOf(SIDE)]);
      const power = (dbfs: number | undefined) => (dbfs === undefined ? 0 : 10 ** (dbfs / 10));
      return middle
        .map(({ hertz, dbfs }, n) => ({ hertz, middle: power(dbfs), side: power(side[n]?.dbfs) }))
        .filter((one) => one.middle + one.side > 0);
    },
  });
  return { sides: data ?? null, problem: error?.message ?? null };
}

const lossDb = (middle: number, side: number): number => 10 * Math.log10((middle + side) / Math.max(middle, 1e-30));

/** What of the sound is lost where both sides are played as one: in thirds of an octave, before and after. */
export function Width({ inHand }: { inHand: EntryEditing }) {
  const { sides, problem } = useSides();
  const { facts } = useCurrentItem();
  if (facts?.source.layout?.speakers.length !== 2) return null;
  if (!sides)
    return (
      <p className="w-[340px] text-label text-soft">
        {problem ? `The two sides could not be measured: ${problem}` : "The two sides are being measured …"}
      </p>
    );
  const gain = (hertz: number) => sideGain(inHand.settings as unknown as Parameters<typeof sideGain>[0], hertz);
  const thirds = sides.map(({ hertz, middle, side }) => ({
    hertz,
    before: lossDb(middle, side),
    after: lossDb(middle, side * gain(hertz) ** 2),
  }));
  const summed = (after: boolean) => {
    const middle = sides.reduce((sum, one) => sum + one.middle, 0);
    return lossDb(
      middle,
      sides.reduce((sum, one) => sum + one.side * (after ? gain(one.hertz) ** 2 : 1), 0),
    );
  };
  const worst = thirds.reduce((most, third) => (third.after > most.after ? third : most));
  const step = WIDTH / thirds.length;
  const y = (db: number) => HEIGHT * (1 - Math.min(MOST_DB, db) / MOST_DB);
  return (
    <figure className="w-[350px]">
      <svg
        role="img"
        aria-label={`In mono ${summed(true).toFixed(1)} dB are lost, ${summed(false).toFixed(1)} before`}
        viewBox={`0 0 ${WIDTH} ${HEIGHT + 16}`}
        className="w-full"
      >
        {[0, 3, 6].map((db) => (
          <g key={db}>
            <line x1={0} x2={WIDTH} y1={y(db)} y2={y(db)} stroke="var(--grid)" />
            <text
              x={WIDTH}
              y={y(db) + (db === 0 ? -2 : 10)}
              fontSize={9}
              textAnchor="end"
              className="figure"
              fill="var(--soft)"
            >
              {db} dB
            </text>
          </g>
        ))}
        {thirds.map(({ hertz, before, after }, n) => (
          <g key={hertz}>
            <rect x={n * step} width={step - 1} y={y(before)} height={HEIGHT - y(before)} fill="var(--grid)" />
            <line
              x1={n * step}
              x2={(n + 1) * step - 1}
              y1={y(after)}
              y2={y(after)}
              stroke="var(--act)"
              strokeWidth={2}
            />
          </g>
        ))}
        {thirds
          .filter((_, n) => n % 6 === 0 && n < thirds.length - 3)
          .map(({ hertz }, n) => (
            <text key={hertz} x={n * 6 * step} y={HEIGHT + 12} fontSize={10} className="figure" fill="var(--soft)">
              {formatHertz(Number(hertz.toPrecision(2)))}
            </text>
          ))}
      </svg>
      <figcaption className="text-label text-soft">
        mono loss: {summed(false).toFixed(1)} dB as it came (grey), {summed(true).toFixed(1)} dB after it (blue); most
        at {formatHertz(Number(worst.hertz.toPrecision(2)))}, {worst.after.toFixed(1)} dB
      </figcaption>
    </figure>
  );
}
