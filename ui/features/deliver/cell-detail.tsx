"use client";

import { LIMITED_FIGURES, type DeliverySpec } from "@core/delivery/spec";
import { marginWords, type LimitVerdict } from "@core/delivery/compliance";
import { formatDb, formatTime } from "@core/audio/format";
import { layoutNamed } from "@core/audio/layout";
import { PROGRAMME_ID } from "@core/project/document";
import { Button } from "@ui/design-system/button";
import { Figure } from "@ui/design-system/figure";
import { MarginGauge } from "@ui/design-system/margin-gauge";
import { ComplianceMark, statusColour } from "@ui/design-system/compliance-mark";
import { openItem, useWorkspace } from "@ui/state/workspace-store";
import type { KnownOf } from "@core/project/known-items";
import type { Cell } from "@core/project/board";
import { FileLine } from "./file-line";
import { RenderQueue } from "./render-queue";
import { isBusy } from "./use-render";
import { Remedies } from "./remedies";

interface Props {
  cell: Cell;
  cells: Cell[];
  known: KnownOf;
  onRender: () => void;
}

/** One cell of the board in full: its limits, what is done to reach them, its file; and the queue beside it. */
export function CellDetail({ cell, cells, known, onRender }: Props) {
  return (
    <div className="grid h-full min-h-0 grid-cols-[minmax(0,1.5fr)_minmax(260px,1fr)] divide-x divide-hair">
      <Limits cell={cell} known={known} onRender={onRender} />
      <RenderQueue cells={cells} />
    </div>
  );
}

function Limits({ cell, known, onRender }: Omit<Props, "cells">) {
  const { verdict, spec, item, verified, master, prediction, source } = cell;
  return (
    <section className="overflow-y-auto px-4 py-2" data-testid="cell-detail">
      <header className="flex items-center gap-2 border-b border-hair pb-1.5">
        <h2 className="truncate font-semibold" title={item.name}>
          “{item.name}” for {spec.name}
        </h2>
        <span className="ml-auto text-label whitespace-nowrap text-soft">
          {verified ? "measured on the rendered file" : prediction ? predictedWords(cell) : "not yet rendered"}
        </span>
        {!verified && (
          <Button onClick={onRender} disabled={isBusy(cell) || source?.state !== "ready"}>
            Render
          </Button>
        )}
      </header>
      {verdict && !verdict.pass && <Remedies cell={cell} known={known} />}
      {verdict ? (
        <table className="w-full">
          <tbody>
            {verdict.limits.map((one, index) => (
              <LimitRow key={`${one.limit.figure}-${index}`} one={one} cell={cell} />
            ))}
            {verdict.fileRequirements.map(({ what, value, wanted, met, clause }) => (
              <tr key={`${what}-${wanted}`} className="h-[23px] border-b border-grid" title={clause}>
                <td className="w-5">
                  <ComplianceMark status={met ? "pass" : "fail"} />
                </td>
                <th scope="row" className="text-left font-normal">
                  {what}
                </th>
                <td className="text-right whitespace-nowrap">{value}</td>
                <td colSpan={2} className={`pl-2 text-label ${statusColour(met ? "pass" : "fail")}`}>
                  {met ? "as asked for" : `${wanted} is asked for`}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : (
        <p className="py-2 text-soft">
          {cell.deliverable.programme && source?.state === "ready"
            ? item.id === PROGRAMME_ID
              ? "The whole is measured as soon as nothing else is rendered; its limits are held against that."
              : "A file of the programme is measured once it is rendered."
            : (source?.problem ?? "The recording is still being read.")}
        </p>
      )}
      <p className="pt-1.5 text-label text-soft">{verified ? doneWords(cell) : prediction ? plannedWords(cell) : ""}</p>
      {!verified &&
        prediction?.obstacles.map((obstacle) => (
          <p key={obstacle} className="text-label text-close">
            ◆ {obstacle}
          </p>
        ))}
      {verified &&
        master?.result?.warnings.map((warning) => (
          <p key={warning} className="text-label text-close">
            ◆ {warning}
          </p>
        ))}
      {verdict?.pass && !verified && <Remedies cell={cell} known={known} />}
      {verified && <FileLine cell={cell} />}
    </section>
  );
}

function LimitRow({ one, cell }: { one: LimitVerdict; cell: Cell }) {
  const { limit, value, status, channel } = one;
  const { label, unit } = LIMITED_FIGURES[limit.figure];
  const places = cell.verified
    ? (cell.master?.result?.places ?? []).filter(({ figure }) => figure === limit.figure)
    : [];
  const layout = cell.master?.result?.figures.layout ?? cell.source?.layout?.name ?? "";
  const speaker = channel === undefined ? null : (layoutNamed(layout)?.speakers[channel]?.label ?? String(channel + 1));
  return (
    <>
      <tr className="h-[23px] border-b border-grid" title={limit.clause}>
        <td className="w-5">
          <ComplianceMark status={status} />
        </td>
        <th scope="row" className="text-left font-normal">
          {label}
          {speaker && <span className="text-soft"> of each channel, worst {speaker}</span>}
          {!limit.required && <span className="text-soft"> (advice)</span>}
        </th>
        <td className="text-right">
          <Figure level={value} unit={unit} digits={cell.verified ? 2 : 1} />
        </td>
        <td className="w-24 pl-2">
          <MarginGauge figure={limit.figure} limit={limit} value={value} width={84} />
        </td>
        <td className={`pl-2 text-label whitespace-nowrap ${statusColour(status)}`}>{marginWords(limit, value)}</td>
      </tr>
      {places.length > 0 && (
        <tr className="border-b border-grid">
          <td />
          <td colSpan={4} className="text-label text-soft">
            above it at{" "}
            {places.slice(0, 8).map(({ startSeconds, worst }) => (
              <button
                key={startSeconds}
                type="button"
                className="figure mr-2 text-act hover:underline"
                title={`${formatDb(worst)} ${unit}; puts the playhead there`}
                onClick={() => {
                  openItem(cell.item.id);
                  useWorkspace.setState({ cursor: startSeconds });
                }}
              >
                {formatTime(startSeconds, 1)}
              </button>
            ))}
            {places.length > 8 && `and ${places.length - 8} more places`}
          </td>
        </tr>
      )}
    </>
  );
}

const predictedWords = ({ leftOut }: Cell): string =>
  leftOut ? `an estimate without ${leftOut}, which are being measured` : "predicted, not yet rendered";

function plannedWords({ prediction, spec }: Cell): string {
  if (!prediction) return "";
  const ride = prediction.levelling ? "the level is ridden to the range that is wanted, " : "";
  const gain = `gain ${formatDb(prediction.gainDb, { sign: true })} dB after the chain${sharedWords(spec)}`;
  return prediction.limitingDb > 0
    ? `Will be: ${ride}${gain}, then the limiter at ${formatDb(spec.ceilingDbtp)} dBTP, which cuts up to ${formatDb(prediction.limitingDb)} dB.`
    : `Will be: ${ride}${gain}; no limiting needed.`;
}

const sharedWords = (spec: DeliverySpec): string => (spec.gainScope === "album" ? " (the same for all items)" : "");

function doneWords({ master, spec }: Cell): string {
  const result = master!.result!;
  const limiting =
    result.limiterCeilingDbtp === null
      ? "no limiting"
      : `limiter at ${formatDb(result.limiterCeilingDbtp, { digits: 2 })} dBTP, cutting up to ${formatDb(result.limitingDb)} dB`;
  const { dither } = master!.inputs.recipe.format;
  return `Done: ${result.levelling ? "level ridden, " : ""}gain ${formatDb(result.gainDb, { sign: true, digits: 2 })} dB${sharedWords(spec)}, ${limiting}; ${result.attempts} ${result.attempts === 1 ? "pass" : "passes"}${result.dithered ? `; TPDF dither${dither === "shaped" ? ", shaped" : ""}` : ""}.`;
}
