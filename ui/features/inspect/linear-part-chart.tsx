"use client";

import { CartesianGrid, Line, LineChart, ReferenceLine, ResponsiveContainer, Tooltip, XAxis, YAxis } from "recharts";
import type { LinearPart } from "@core/compare/linear-part";
import { formatDb } from "@core/audio/format";
import { CHART_TEXT, TOOLTIP } from "./chart-style";
import { FREQUENCY_AXIS, hertzWords } from "./frequency-axis";

/** Least range of the drawing, up and down. */
const LEAST_RANGE_DB = 6;

/** What a filter explains of the other: its curve, the level matched, and how much no filter explains. */
export function LinearPartChart({ linear: { response, leftOverDb } }: { linear: LinearPart }) {
  const heard = response.filter(([hertz]) => hertz >= 20 && hertz <= 20_000);
  const mean = heard.reduce((sum, [, db]) => sum + db, 0) / Math.max(1, heard.length);
  const rows = heard.map(([hertz, db]) => ({ hertz, db: db - mean }));
  const range = Math.ceil(Math.max(LEAST_RANGE_DB, ...rows.map(({ db }) => Math.min(24, Math.abs(db)))) / 3) * 3;
  return (
    <figure data-testid="linear-part">
      <div className="mt-1 h-[104px]">
        <ResponsiveContainer width="100%" height="100%">
          <LineChart data={rows} margin={{ top: 4, right: 4, bottom: -8, left: -20 }}>
            <CartesianGrid stroke="var(--grid)" />
            <XAxis {...FREQUENCY_AXIS} ticks={[100, 1000, 10_000]} />
            <YAxis
              tick={CHART_TEXT}
              stroke="var(--hair)"
              width={50}
              domain={[-range, range]}
              ticks={[-range, 0, range]}
              tickFormatter={(level: number) => formatDb(level, { digits: 0, sign: true })}
              allowDataOverflow
            />
            <ReferenceLine y={0} stroke="var(--hair)" />
            <Tooltip
              {...TOOLTIP}
              cursor={{ stroke: "var(--act)" }}
              labelFormatter={(hertz) => `${hertzWords(Number(hertz))} Hz`}
              formatter={(level) => [`${formatDb(Number(level), { sign: true })} dB`, "filter"]}
            />
            <Line dataKey="db" dot={false} stroke="var(--act)" strokeWidth={1.5} isAnimationActive={false} />
          </LineChart>
        </ResponsiveContainer>
      </div>
      <figcaption
        className="text-label text-soft"
        title="By averaged cross-spectra: the filter that best makes the other of this. What it leaves is dynamics, limiting, repairs and noise"
      >
        Equalisation of the other, at one level; no filter explains{" "}
        <span className="figure text-ink">{formatDb(Math.min(0, leftOverDb))} dB</span> of it
      </figcaption>
    </figure>
  );
}
