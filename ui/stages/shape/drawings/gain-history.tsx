"use client";

import { useMemo } from "react";
import { levelsOf, predictChain } from "@core/render/predict";
import { useDesk } from "@ui/workspace/desk";
import { useInHand } from "@ui/workspace/in-hand";
import type { EntryInHand } from "../use-entry";

const HEIGHT = 64;
const WIDTH = 600;

/** What a processor takes off over the part of the item that is in view, estimated from its levels. */
export function GainHistory({ inHand }: { inHand: EntryInHand }) {
  const { facts, chain } = useInHand();
  const window_ = useDesk((desk) => desk.view);
  const at = chain.findIndex(({ id }) => id === inHand.entry.id);
  const cut = useMemo(() => {
    if (!facts || at < 0) return [];
    const before = predictChain(levelsOf(facts.figures, facts.curves), chain.slice(0, at));
    const after = predictChain(before, [{ ...chain[at]!, bypass: false }]);
    return Array.from(before.peakDb, (peak, i) => (Number.isFinite(peak) ? after.peakDb[i]! - peak : 0));
  }, [facts, chain, at]);
  if (cut.length === 0 || !facts) return null;
  const [from, to] = window_ ? [window_.start, window_.end] : [0, facts.duration];
  const shown = cut.slice(Math.floor(from * 10), Math.ceil(to * 10));
  const deepest = Math.min(-3, ...shown);
  const step = WIDTH / Math.max(1, shown.length);
  // No more bars than can be told apart: of those that share a place, the deepest.
  const bars = new Map<number, number>();
  shown.forEach((db, n) => {
    const x = Math.floor(n * step);
    bars.set(x, Math.min(bars.get(x) ?? 0, db));
  });
  const most = Math.min(0, ...shown);
  return (
    <figure className="w-full">
      <svg
        role="img"
        aria-label={`Estimated gain reduction, up to ${(-most).toFixed(1)} dB`}
        viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
        preserveAspectRatio="none"
        className="h-16 w-full"
      >
        {[...bars].map(([x, db]) => (
          <rect key={x} x={x} y={0} width={Math.max(1, step)} height={(HEIGHT * db) / deepest} fill="var(--peak)" />
        ))}
      </svg>
      <figcaption className="figure flex justify-between text-label text-soft">
        <span>taken off in what is in view, estimated in steps of 100 ms</span>
        <span>up to {(-most).toFixed(1)} dB</span>
      </figcaption>
    </figure>
  );
}
