import { formatDb } from "@core/audio/format";

/** A level with its unit, soft and smaller. */
export function Figure({
  level,
  unit,
  digits = 1,
  sign,
  className = "",
}: {
  level: number | null;
  unit: string;
  digits?: number;
  sign?: boolean;
  className?: string;
}) {
  return (
    <span className={`figure whitespace-nowrap ${className}`}>
      {formatDb(level, { digits, ...(sign ? { sign } : {}) })}
      <span className="ml-1 text-label text-soft">{unit}</span>
    </span>
  );
}
