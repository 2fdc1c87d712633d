"use client";

import { useState } from "react";
import { gainToDb } from "@core/audio/decibel";
import { formatDb } from "@core/audio/format";
import { predictNow } from "@core/delivery/predict-chain";
import type { LimitedFigures } from "@core/delivery/compliance";
import { Button } from "@ui/design-system/button";
import { Select } from "@ui/design-system/controls";
import { useCurrentItem } from "@ui/state/current-item";
import type { EntryEditing } from "./visualisers/use-entry";

interface Aim {
  words: string;
  unit: string;
  start: number;
  figure: keyof Pick<LimitedFigures, "truePeakDbtp" | "samplePeakDbfs" | "integratedLufs">;
  toDb: (typed: number) => number;
}

const same = (typed: number): number => typed;

/** What a level can be brought to, each in the unit that it is told in. */
const AIMS: Record<"peak" | "sample" | "percent" | "loudness", Aim> = {
  peak: { words: "true peak", unit: "dBTP", start: -1, figure: "truePeakDbtp", toDb: same },
  sample: { words: "sample peak", unit: "dBFS", start: -0.5, figure: "samplePeakDbfs", toDb: same },
  percent: {
    words: "sample peak",
    unit: "%",
    start: 98,
    figure: "samplePeakDbfs",
    toDb: (percent) => gainToDb(percent / 100),
  },
  loudness: { words: "integrated loudness", unit: "LUFS", start: -23, figure: "integratedLufs", toDb: same },
};
type AimId = keyof typeof AIMS;

/** Gain that brings the item, as it comes into this processor, to a peak or a loudness. */
export function LevelTo({ inHand }: { inHand: EntryEditing }) {
  const { facts, chain } = useCurrentItem();
  const [aimed, setAimed] = useState<AimId>("peak");
  const [typed, setTyped] = useState<Partial<Record<AimId, string>>>({});
  const { figure, unit, start, toDb } = AIMS[aimed];
  const value = typed[aimed] ?? String(start).replace("-", "−");
  const at = chain.findIndex(({ id }) => id === inHand.entry.id);
  const before =
    facts && at >= 0
      ? (predictNow(facts.figures, facts.curves, chain.slice(0, at), facts.knownLevels)[figure] ?? null)
      : null;
  const target = toDb(Number(value.replace("−", "-").replace(",", ".")));
  const gainDb = before === null ? NaN : Number((target - before).toFixed(2));
  const fits = Number.isFinite(gainDb) && Math.abs(gainDb) <= 60;
  const set = () => fits && void inHand.commit("gainDb", gainDb);
  return (
    <div className="mt-1 flex flex-wrap items-center gap-1.5 border-t border-grid pt-1.5" data-testid="level-to">
      <span>Normalise the</span>
      <Select
        label="What is normalised"
        value={aimed}
        options={Object.keys(AIMS) as AimId[]}
        words={(id) => `${AIMS[id].words}, ${AIMS[id].unit}`}
        onChange={setAimed}
      />
      <span>to</span>
      <input
        aria-label={`Level to normalise to, ${unit}`}
        className="figure h-7 w-18 rounded-[4px] border border-hair bg-sheet px-2 text-right outline-none focus:border-act"
        value={value}
        onChange={(event) => setTyped({ ...typed, [aimed]: event.target.value })}
        onKeyDown={(event) => event.key === "Enter" && set()}
      />
      <span className="text-soft">{unit}</span>
      <Button disabled={!fits} onClick={set} hint="Sets the gain; the item as it comes in here is taken for it">
        {fits ? `Set the gain, ${formatDb(gainDb, { sign: true, digits: 2 })} dB` : "Set the gain"}
      </Button>
      {before === null && <span className="text-label text-soft">nothing sounds that could be brought to a level</span>}
    </div>
  );
}
