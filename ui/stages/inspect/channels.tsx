import type { PairCorrelation } from "@core/measure/correlation";
import { formatDb } from "@core/signal/format";
import type { ItemFacts } from "@ui/workspace/in-hand";
import { Panel } from "./panel";

/** A pair that correlates less than this is told as opposed. */
const OPPOSED = -0.3;
const SHOWN_PAIRS = 6;

/** Every channel with its levels, and the pairs that oppose each other: first when there are any. */
export function Channels({ facts }: { facts: ItemFacts }) {
  const { figures, source } = facts;
  const labels = source.layout?.speakers.map(({ label }) => label) ?? [];
  const pairs = figures.correlationPerPair
    .filter(({ correlation }) => correlation !== null)
    .sort((a, b) => a.correlation! - b.correlation!);
  const risky = labels.length > 2 && (pairs[0]?.correlation ?? 0) < OPPOSED;
  return (
    <Panel title="Channels" aside={source.layout?.name ?? ""}>
      {risky && <Pairs pairs={pairs.filter(({ correlation }) => correlation! < OPPOSED)} />}
      <table className="w-full text-right">
        <thead className="text-label text-soft">
          <tr className="h-[22px]">
            <th className="text-left font-normal">channel</th>
            <th className="font-normal">true peak</th>
            <th className="font-normal">RMS</th>
            <th className="font-normal">DC offset</th>
          </tr>
        </thead>
        <tbody className="figure">
          {labels.map((label, c) => (
            <tr key={label} className="h-[22px] border-t border-grid">
              <th className="text-left font-normal">{label}</th>
              <td>{formatDb(figures.truePeakPerChannelDbtp[c] ?? null)}</td>
              <td>{formatDb(figures.rmsPerChannelDbfs[c] ?? null)}</td>
              <td>{formatDb((figures.dcOffset[c] ?? 0) * 100, { digits: 2 })} %</td>
            </tr>
          ))}
        </tbody>
      </table>
      {!risky && pairs.length > 0 && <Pairs pairs={pairs} />}
    </Panel>
  );
}

function Pairs({ pairs }: { pairs: PairCorrelation[] }) {
  return (
    <>
      <h3 className="pt-1.5 text-label text-soft">Correlation of pairs, the most opposed first</h3>
      {pairs.slice(0, SHOWN_PAIRS).map(({ pair, correlation }) => (
        <p key={pair.join()} className="flex h-[22px] items-center justify-between border-b border-grid">
          <span>
            {pair[0]} – {pair[1]}
          </span>
          <span className={`figure ${correlation! < OPPOSED ? "text-outside" : ""}`}>
            {formatDb(correlation, { sign: true, digits: 2 })}
            {correlation! < OPPOSED && " opposed ▲"}
          </span>
        </p>
      ))}
    </>
  );
}
