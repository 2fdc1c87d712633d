"use client";

import { LIMITED_FIGURES, type LimitedFigure } from "@core/delivery/spec";
import { checkLimit, marginWords } from "@core/delivery/compliance";
import { formatDb, formatTime } from "@core/audio/format";
import { ComplianceMark, statusColour } from "@ui/design-system/compliance-mark";
import { useCurrentItem } from "@ui/state/current-item";
import { useWholeProgramme } from "@ui/state/programme";

/** A step at a join that is marked. */
const MARKED_STEP_LU = 6;

/** Figures of the whole while the programme is in hand. */
export function ProgrammeFigures() {
  const { levels, nameOf, order, estimated, placed, timeline } = useWholeProgramme();
  const number = (id: string | null) => order.findIndex((item) => item.id === id) + 1;
  const lufs = (id: string | null) => (id ? (levels?.items.get(id)?.integratedLufs ?? null) : null);
  const spread = levels && levels.loudest && levels.quietest ? lufs(levels.loudest)! - lufs(levels.quietest)! : null;
  const steps = (levels?.joins ?? []).filter(({ stepLu }) => stepLu !== null);
  const largest = steps.reduce<(typeof steps)[number] | null>(
    (a, b) => (a === null || Math.abs(b.stepLu!) > Math.abs(a.stepLu!) ? b : a),
    null,
  );
  const isLarge = largest !== null && Math.abs(largest.stepLu!) > MARKED_STEP_LU;
  const shortest = timeline?.order.reduce((a, b) => (b.end - b.start < a.end - a.start ? b : a));
  return (
    <>
      <Limited
        figure="integratedLufs"
        label="Integrated"
        level={levels?.integratedLufs}
        note={estimated ? "estimated" : ""}
      />
      <Limited
        figure="truePeakDbtp"
        label="True peak"
        level={levels?.truePeakDbtp}
        note={estimated ? "estimated" : ""}
      />
      <Cell
        label="Loudest to quietest"
        note={spread === null ? "" : `${formatDb(spread)} LU`}
        title={
          levels?.loudest
            ? `LUFS of “${nameOf(levels.loudest)}” and of “${nameOf(levels.quietest ?? levels.loudest)}”`
            : undefined
        }
      >
        {levels?.loudest ? `${formatDb(lufs(levels.loudest))} … ${formatDb(lufs(levels.quietest))}` : "—"}
      </Cell>
      <Cell
        label="Largest step"
        note={
          largest ? (
            <span className={isLarge ? "text-outside" : "text-soft"}>
              {isLarge ? "▲ " : ""}
              {number(largest.before.item)} → {number(largest.after.item)}
            </span>
          ) : (
            ""
          )
        }
        title={largest ? `From “${nameOf(largest.before.item)}” to “${nameOf(largest.after.item)}”` : undefined}
      >
        {largest ? `${formatDb(largest.stepLu!, { sign: true })} LU` : "—"}
      </Cell>
      <Cell
        label="Items"
        note={
          shortest && timeline ? `shortest ${formatTime((shortest.end - shortest.start) / timeline.sampleRate, 0)}` : ""
        }
        title={shortest ? nameOf(shortest.item) : undefined}
      >
        {order.filter(({ id }) => placed(id)).length} in order
      </Cell>
    </>
  );
}

function Limited({
  figure,
  label,
  level,
  note,
}: {
  figure: LimitedFigure;
  label: string;
  level: number | null | undefined;
  note: string;
}) {
  const { spec } = useCurrentItem();
  const limit = spec?.limits.find((one) => one.figure === figure && one.scope !== "album");
  const known = level !== undefined;
  const status = known && limit ? checkLimit(limit, level).status : "unknown";
  const words = known && limit ? marginWords(limit, level).replace(/ (LU|dB) /, " ") : "";
  return (
    <Cell
      label={label}
      testId={`programme-${figure}`}
      title={note ? "An estimate from the settings of the chains; the render measures" : undefined}
      note={
        <span className={`flex items-center gap-1 ${limit ? statusColour(status) : "text-soft"}`}>
          {words || note}
          {limit && known && <ComplianceMark status={status} size={9} />}
        </span>
      }
    >
      {formatDb(known ? level : NaN)} {LIMITED_FIGURES[figure].unit}
    </Cell>
  );
}

function Cell({
  label,
  note,
  title,
  testId,
  children,
}: {
  label: string;
  note: React.ReactNode;
  title?: string | undefined;
  testId?: string;
  children: React.ReactNode;
}) {
  return (
    <div
      className="flex min-w-0 flex-col justify-center border-r border-hair px-2.5"
      title={title}
      data-testid={testId}
    >
      <div className="flex items-center gap-1 text-label">
        <span className="truncate text-soft">{label}</span>
        <span className="ml-auto shrink-0 text-soft">{note}</span>
      </div>
      <div className="figure truncate text-body">{children}</div>
    </div>
  );
}
