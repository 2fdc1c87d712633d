"use client";

import { useMemo } from "react";
import { Bar, BarChart, ReferenceArea, ReferenceLine, ResponsiveContainer, Tooltip, XAxis, YAxis } from "recharts";
import { distributionOf } from "@core/report/drawings";
import { formatDb, formatTime } from "@core/audio/format";
import { LIMITED_FIGURES } from "@core/delivery/spec";
import { useCurrentItem, type ItemFacts } from "@ui/state/current-item";
import { brokenLimits } from "./limit-violations";
import { CHART_TEXT, TOOLTIP } from "./chart-style";
import { Panel } from "../../design-system/panel";
import { TimeLink } from "./time-link";
import type { MeasuredRange } from "./use-measured";

const SHOWN_PLACES = 60;

/** How loudness is distributed, and where limits over time are broken. */
export function LoudnessView({ facts, stretch }: { facts: ItemFacts; stretch: MeasuredRange }) {
  const { spec } = useCurrentItem();
  const { figures, curves, offset, words } = stretch;
  const bins = useMemo(
    () =>
      distributionOf(curves.shortTermLufs).map(({ lufs, share }) => ({ lufs, percent: Math.round(share * 1000) / 10 })),
    [curves],
  );
  const target = spec?.limits.find(({ figure }) => figure === "integratedLufs");
  const broken = useMemo(() => brokenLimits(curves, spec?.limits ?? []), [curves, spec]);
  const limited = spec?.limits.some(({ figure }) => figure === "shortTermMaxLufs" || figure === "momentaryMaxLufs");
  return (
    <div className="grid h-full grid-cols-[minmax(400px,2fr)_minmax(260px,1fr)] divide-x divide-hair">
      <Panel
        title="Distribution of short-term loudness"
        aside={`${words} · range ${formatDb(figures.loudnessRangeLu)} LU`}
      >
        <div className="h-[186px] pt-2" data-testid="distribution">
          <ResponsiveContainer width="100%" height="100%">
            <BarChart data={bins} margin={{ top: 4, right: 8, bottom: 0, left: -18 }} barCategoryGap={1}>
              {target?.min !== undefined && target.max !== undefined && (
                <ReferenceArea
                  x1={Math.round(target.min)}
                  x2={Math.round(target.max)}
                  fill="var(--band)"
                  fillOpacity={1}
                />
              )}
              <XAxis
                dataKey="lufs"
                tick={CHART_TEXT}
                stroke="var(--hair)"
                interval={5}
                tickFormatter={(lufs: number) => formatDb(lufs, { digits: 0 })}
              />
              <YAxis tick={CHART_TEXT} stroke="var(--hair)" unit=" %" width={54} />
              <Tooltip
                {...TOOLTIP}
                formatter={(percent) => [`${Number(percent)} % of the time`, ""]}
                labelFormatter={(lufs) => `${formatDb(Number(lufs), { digits: 0 })} LUFS`}
                separator=""
              />
              <Bar dataKey="percent" fill="var(--ink)" isAnimationActive={false} />
              {figures.integratedLufs !== null && (
                <ReferenceLine x={Math.round(figures.integratedLufs)} stroke="var(--act)" strokeDasharray="3 3" />
              )}
            </BarChart>
          </ResponsiveContainer>
        </div>
        <p className="text-label text-soft">
          3 s windows above −70 LUFS, each 100 ms · dashed: integrated{target ? ` · band: ${spec!.name}` : ""}
        </p>
      </Panel>
      <Panel title="Where limits are broken" aside={spec?.name ?? "no specification"}>
        {!limited && (
          <p className="py-2 text-soft">
            {spec ? `${spec.name} sets no limit over time.` : "No deliverable is in force."} Momentary and short-term
            loudness are drawn in the programme view.
          </p>
        )}
        {limited && broken.length === 0 && <p className="py-2 text-soft">Nowhere.</p>}
        <ol>
          {broken.slice(0, SHOWN_PLACES).map(({ figure, start, end, worst, limit }) => (
            <li key={`${figure}/${start}`} className="flex h-[22px] items-center justify-between border-b border-grid">
              <TimeLink facts={facts} place={{ seconds: offset + start, length: end - start }}>
                <span className="figure">{formatTime(offset + start, 1)}</span>
              </TimeLink>
              <span>{LIMITED_FIGURES[figure].label}</span>
              <span className="figure text-outside">▲ {formatDb(worst - limit)} LU over</span>
            </li>
          ))}
        </ol>
        {broken.length > SHOWN_PLACES && <p className="text-soft">and {broken.length - SHOWN_PLACES} more</p>}
      </Panel>
    </div>
  );
}
