"use client";

/** How a later recording lies on an earlier one, and what it changes. */
import { formatDb, formatTime } from "@core/audio/format";
import type { TimeMap } from "@core/compare/time-map";
import type { Figures } from "@core/measure";
import type { LostPlace } from "@core/project/replacement";

/** What came of laying the one on the other. */
export type Laid =
  | { state: "comparing"; fraction: number }
  | { state: "done"; map: TimeMap | null }
  | { state: "failed"; why: string };

/** What the later recording changes of the figures before the chain. */
export function FigureChange({ earlier, later }: { earlier: Figures | undefined; later: Figures | undefined }) {
  if (!earlier || !later) return "—";
  const change = (name: "integratedLufs" | "truePeakDbtp") => {
    const [before, after] = [earlier[name], later[name]];
    return before === null || after === null ? "—" : formatDb(after - before, { sign: true });
  };
  return `${change("integratedLufs")} · ${change("truePeakDbtp")}`;
}

/** The shift, what was cut out or put in, and which places lie there. */
export function HowItLies({
  laid,
  lost,
  rate,
  isMix,
}: {
  laid: Laid | undefined;
  lost: readonly LostPlace[];
  rate: number;
  isMix: boolean;
}) {
  if (!laid) return <span className="text-soft">{isMix ? "shares the item's cuts" : "not compared yet"}</span>;
  if (laid.state === "comparing")
    return <span className="text-soft">comparing, {Math.round(laid.fraction * 100)} %</span>;
  if (laid.state === "failed") return <span className="text-outside">{laid.why}</span>;
  if (!laid.map) return <span className="text-close">◆ not alike: taken from its beginning</span>;
  const { stretches, gainDb } = laid.map;
  const shift = stretches[0]?.shift ?? 0;
  const changes = stretches.slice(1).map((next, i) => {
    const length = (next.shift - stretches[i]!.shift) / rate;
    const at = formatTime(stretches[i]!.end / rate, 2);
    return `${Math.abs(length).toFixed(3)} s ${length < 0 ? "cut out" : "put in"} at ${at}`;
  });
  return (
    <span className="figure">
      {shift === 0 ? "in place" : `${shift > 0 ? "+" : "−"}${Math.abs(shift)} samples`},{" "}
      {formatDb(-gainDb, { sign: true })} dB
      {isMix && shift !== 0 && <span className="block text-soft">what is done to the item is moved along</span>}
      {changes.map((words) => (
        <span key={words} className="block text-close">
          ◆ {words}
        </span>
      ))}
      {lost.map(({ what, seconds }) => (
        <span key={`${what} ${seconds}`} className="block text-close">
          ◆ {what}: now at {formatTime(seconds, 1)}
        </span>
      ))}
    </span>
  );
}
