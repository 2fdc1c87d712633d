"use client";

import { AudioWaveform, ChevronDown } from "lucide-react";
import { isActive } from "@core/repair";
import Link from "next/link";
import { DropdownMenu, Popover } from "radix-ui";
import { useMemo } from "react";
import { specOf } from "@core/project/document";
import { LIMITED_FIGURES } from "@core/delivery/spec";
import { marginWords, type ComplianceStatus } from "@core/delivery/compliance";
import { decidingFigures, worstOf, type DecidingFigure } from "@core/delivery/deciding-figures";
import { formatTime } from "@core/audio/format";
import { Figure } from "@ui/design-system/figure";
import { Hint } from "@ui/design-system/hint";
import { MarginGauge } from "@ui/design-system/margin-gauge";
import { ComplianceMark, statusColour } from "@ui/design-system/compliance-mark";
import { useCurrentItem } from "../state/current-item";
import { useWorkspace } from "../state/workspace-store";
import { useStripFigures, type StripFigures } from "../state/use-strip-figures";
import { useWholeProgramme } from "../state/programme";
import { ProgrammeFigures } from "./programme-strip";

/** As many as have room; the others are a click away. */
const SHOWN = 5;

/** The deliverable in force and the figures that decide it, those that fail first, with their margins, as the item is now. */
export function ComplianceStrip() {
  const { view, item, chain, chainMeasured, spec } = useCurrentItem();
  const { figures, fold } = useStripFigures();
  const deciding = useMemo(() => decidingFigures(spec, figures ?? {}), [spec, figures]);
  const isProgramme = useWorkspace((workspace) => workspace.stage === "sequence");
  const { estimated } = useWholeProgramme();
  const shaped = chain.some((entry) => !entry.bypass);
  const treated = item !== null && (item.clips !== undefined || item.repairs.some(isActive));
  const place = item ? view.document.items.indexOf(item) + 1 : 0;
  return (
    <header className="col-span-3 grid grid-cols-[112px_minmax(150px,1fr)_repeat(5,minmax(136px,156px))_auto_148px] border-b border-hair bg-sheet">
      <Hint text="All projects">
        <Link href="/" className="flex items-center gap-2 border-r border-hair px-3 font-semibold">
          <AudioWaveform size={17} aria-hidden />
          Resonum
        </Link>
      </Hint>
      <div className="flex min-w-0 flex-col justify-center border-r border-hair px-3">
        <h1 className="truncate text-body font-semibold" title={view.document.name}>
          {view.document.name}
        </h1>
        <p
          className="truncate text-label text-soft"
          title={
            item
              ? `${item.name}: the figures are ${shaped ? "estimates of what comes out of its chain" : treated ? "measured after its repairs and cuts" : "measured on the recording"}`
              : undefined
          }
        >
          {isProgramme
            ? `the whole programme · ${estimated ? "chains, estimated" : "as estimated from its items"}`
            : item
              ? `${place} of ${view.document.items.length} “${item.name}” · ${shaped ? (chainMeasured ? "chain, measured" : "chain, estimated") : treated ? "after repairs and cuts" : "as it came"}${foldWords(fold)}`
              : "no recordings yet"}
        </p>
      </div>
      {isProgramme ? (
        <ProgrammeFigures />
      ) : (
        deciding.slice(0, SHOWN).map((one) => <Deciding key={one.figure} {...one} level={figures?.[one.figure]} />)
      )}
      {isProgramme ? <span /> : <MoreFigures deciding={deciding.slice(SHOWN)} figures={figures} />}
      <InForce />
    </header>
  );
}

const foldWords = (fold: StripFigures["fold"]): string =>
  fold === null ? "" : fold.isMeasured ? ` · loudness on ${fold.layout}` : ` · not yet on ${fold.layout}`;

/** Without its unit, which stands below; of plenty to spare no tenth matters. */
const shortened = (words: string) =>
  words
    .replace(/ (LU|dB|s) /, " ")
    .replace(/(\d\d)\.\d to spare/, "$1 to spare")
    .replace(/ to spare$/, " spare");

interface DecidingProps extends DecidingFigure {
  level: number | null | undefined;
}

/** Levels with a tenth, seconds with a hundredth, lengths as time. */
function Level({ figure, level }: Pick<DecidingProps, "figure" | "level">) {
  const { unit } = LIMITED_FIGURES[figure];
  if (figure === "durationSeconds" && typeof level === "number")
    return <span className="figure text-body">{formatTime(level, 1)}</span>;
  return (
    <Figure level={level === undefined ? NaN : level} unit={unit} digits={unit === "s" ? 2 : 1} className="text-body" />
  );
}

function Deciding({ figure, verdict, level }: DecidingProps) {
  const { facts } = useCurrentItem();
  const { label } = LIMITED_FIGURES[figure];
  const known = level !== undefined;
  const standing: ComplianceStatus = !known ? "unknown" : (verdict?.status ?? "pass");
  const value = verdict?.value ?? level ?? null;
  const words = known ? marginWords(verdict?.limit, value) : "not measured";
  const before = facts?.figures[figure as keyof typeof facts.figures];
  return (
    <div
      className="flex min-w-0 flex-col justify-center border-r border-hair px-2.5"
      data-testid={`standing-${figure}`}
    >
      <div className="flex items-center gap-1 text-label">
        <span className="truncate text-soft">{label}</span>
        <span className={`ml-auto truncate ${verdict ? statusColour(standing) : "text-soft"}`}>
          {verdict ? shortened(words) : "no limit"}
        </span>
        {verdict && <ComplianceMark status={standing} size={9} />}
      </div>
      <div className="flex items-center justify-between gap-1">
        <Level figure={figure} level={level} />
        <MarginGauge
          figure={figure}
          limit={verdict?.limit}
          value={value}
          before={typeof before === "number" ? before : null}
        />
      </div>
    </div>
  );
}

/** The figures for which the strip has no room, by a click, under the mark of the worst. */
function MoreFigures({ deciding, figures }: { deciding: readonly DecidingFigure[]; figures: StripFigures["figures"] }) {
  if (deciding.length === 0) return <span />;
  const worst = worstOf(deciding);
  return (
    <Popover.Root>
      <Popover.Trigger
        aria-label={`${deciding.length} more figures`}
        title="The other figures that the deliverable limits, and what is told besides"
        className="flex flex-col items-center justify-center border-r border-hair px-1.5 text-label text-act hover:bg-act-ground"
      >
        {worst === "pass" ? null : <ComplianceMark status={worst} size={9} />}
        <span className="figure">+{deciding.length}</span>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          className="z-50 grid w-[420px] grid-cols-2 gap-y-2 rounded-[4px] border border-hair bg-sheet p-2"
        >
          {deciding.map((one) => (
            <Deciding key={one.figure} {...one} level={figures?.[one.figure]} />
          ))}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}

function InForce() {
  const { view, spec, edit } = useCurrentItem();
  const { deliverables } = view.document;
  if (!spec) return <div className="flex items-center px-3 text-label text-soft">no deliverable yet</div>;
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        className="flex flex-col items-start justify-center px-3 text-left text-act hover:bg-act-ground"
        aria-label="Deliverable in force"
      >
        <span className="max-w-full truncate text-body font-semibold">{spec.name}</span>
        <span className="flex items-center gap-1 text-label">
          {deliverables.length > 1 ? `${deliverables.length - 1} more` : "in force"}{" "}
          <ChevronDown size={12} aria-hidden />
        </span>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" className="z-50 w-72 rounded-[4px] border border-hair bg-sheet p-1">
          <DropdownMenu.Label className="px-2 py-1 text-label text-soft">Show margins against</DropdownMenu.Label>
          {deliverables.map((deliverable) => (
            <DropdownMenu.Item
              key={deliverable.id}
              onSelect={() => void edit({ type: "setInForce", deliverable: deliverable.id })}
              className="rounded-[3px] px-2 py-1 outline-none data-highlighted:bg-act-ground data-highlighted:text-act"
            >
              {specOf(view.document, deliverable.spec).name}
              <span className="block text-label text-soft">{specOf(view.document, deliverable.spec).help}</span>
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
