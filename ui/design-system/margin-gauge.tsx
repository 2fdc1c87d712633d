import { formatDb } from "@core/audio/format";
import { LIMITED_FIGURES, type Limit, type LimitedFigure } from "@core/delivery/spec";
import { checkLimit, marginWords, type ComplianceStatus } from "@core/delivery/compliance";
import { gaugeScale } from "./gauge-scale";
import { statusColour } from "./compliance-mark";

interface Props {
  figure: LimitedFigure;
  limit: Limit | undefined;
  value: number | null;
  /** The value before the last change. */
  before?: number | null | undefined;
  width?: 58 | 84 | 220;
}

const HEIGHT = 16;
const BASE = 12;

/** A value against its limits: a band with brackets where it may be, a stem where it is, a grey one where it was. */
export function MarginGauge({ figure, limit, value, before, width = 58 }: Props) {
  const scale = gaugeScale(figure, limit);
  const x = (level: number) =>
    1 + Math.max(0, Math.min(1, (level - scale.low) / (scale.high - scale.low))) * (width - 2);
  const status: ComplianceStatus = limit ? checkLimit(limit, value).status : "pass";
  const { label, unit } = LIMITED_FIGURES[figure];
  const words = `${label} ${formatDb(value)} ${unit}, ${marginWords(limit, value)}`;
  const from = limit?.min === undefined ? 1 : x(limit.min);
  const to = limit?.max === undefined ? width - 1 : x(limit.max);
  return (
    <svg
      role="meter"
      aria-label={label}
      aria-valuemin={scale.low}
      aria-valuemax={scale.high}
      aria-valuenow={value ?? scale.low}
      aria-valuetext={words}
      width={width}
      height={HEIGHT}
      className="shrink-0 overflow-visible"
    >
      <line x1="0" x2={width} y1={BASE} y2={BASE} stroke="var(--hair)" />
      {limit && <rect x={from} y="4" width={Math.max(1, to - from)} height={BASE - 4} fill="var(--band)" />}
      {limit?.min !== undefined && (
        <path d={`M${from + 3} 4H${from}V${BASE}H${from + 3}`} fill="none" stroke="var(--soft)" />
      )}
      {limit?.max !== undefined && <path d={`M${to - 3} 4H${to}V${BASE}H${to - 3}`} fill="none" stroke="var(--soft)" />}
      {before !== undefined && before !== null && before !== value && (
        <line x1={x(before)} x2={x(before)} y1="2" y2={BASE} stroke="var(--peak)" strokeWidth="2" />
      )}
      {value !== null && (
        <g className={limit ? statusColour(status) : "text-ink"} fill="currentColor" stroke="currentColor">
          <line x1={x(value)} x2={x(value)} y1="4" y2={BASE + 2} strokeWidth="1.6" />
          <path d={`M${x(value) - 3.4} 1h6.8l-3.4 5.4z`} stroke="none" />
        </g>
      )}
    </svg>
  );
}
