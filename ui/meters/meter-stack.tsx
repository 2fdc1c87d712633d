"use client";

import { ChevronDown, ChevronUp, Maximize2, X } from "lucide-react";
import type { ReactNode } from "react";
import { IconButton } from "@ui/design-system/icon-button";
import {
  METER_SIZES,
  METER_LABELS,
  moved,
  type MeterArrangement,
  type Meter,
  type MeterKind,
  type MeterSize,
} from "./arrangement";
import { BalanceMeter, ClockMeter, CorrelationMeter, PairsMeter, PeakMeter, ReductionMeter } from "./channel-meters";
import { DirectionsMeter, ImageMeter } from "./image-meters";
import { HistoryMeter, LoudnessMeter } from "./loudness-meters";
import { SpectrumMeter } from "./spectrum-meter";

const METERS: Record<MeterKind, { meter: (props: { size: MeterSize }) => ReactNode; unit: string }> = {
  loudness: { meter: LoudnessMeter, unit: "" },
  peaks: { meter: PeakMeter, unit: "dBTP, held" },
  correlation: { meter: CorrelationMeter, unit: "" },
  balance: { meter: BalanceMeter, unit: "400 ms" },
  reduction: { meter: ReductionMeter, unit: "dB, limiters" },
  image: { meter: ImageMeter, unit: "energy" },
  spectrum: { meter: SpectrumMeter, unit: "dBFS" },
  pairs: { meter: PairsMeter, unit: "400 ms" },
  directions: { meter: DirectionsMeter, unit: "from above" },
  clock: { meter: ClockMeter, unit: "" },
  history: { meter: HistoryMeter, unit: "LUFS" },
};

/** The meters of an arrangement, each with what changes its place and size. */
export function MeterStack({
  arrangement,
  onChange,
}: {
  arrangement: MeterArrangement;
  onChange: (next: MeterArrangement) => void;
}) {
  const { meters } = arrangement;
  const set = (next: Meter[]) => onChange({ ...arrangement, meters: next });
  return (
    <>
      {meters.map((meter, index) => {
        const { meter: Drawn, unit } = METERS[meter.kind];
        const words = METER_LABELS[meter.kind];
        const larger = METER_SIZES[(METER_SIZES.indexOf(meter.size) + 1) % METER_SIZES.length]!;
        return (
          <section key={`${meter.kind}-${index}`} className="group border-b border-hair px-3 py-1.5" aria-label={words}>
            <h2 className="flex h-4.5 items-center text-label">
              {words}
              <span className="ml-auto text-soft group-focus-within:hidden group-hover:hidden">
                {meter.kind === "loudness" ? arrangement.scale : unit}
              </span>
              <span className="ml-auto hidden group-focus-within:flex group-hover:flex">
                <IconButton
                  label={`${words}: further up`}
                  disabled={index === 0}
                  onClick={() => set(moved(meters, index, -1))}
                >
                  <ChevronUp size={11} />
                </IconButton>
                <IconButton
                  label={`${words}: further down`}
                  disabled={index === meters.length - 1}
                  onClick={() => set(moved(meters, index, 1))}
                >
                  <ChevronDown size={11} />
                </IconButton>
                <IconButton
                  label={`${words}: ${larger}`}
                  onClick={() => set(meters.map((other, i) => (i === index ? { ...meter, size: larger } : other)))}
                >
                  <Maximize2 size={11} />
                </IconButton>
                <IconButton label={`${words}: take away`} onClick={() => set(meters.filter((_, i) => i !== index))}>
                  <X size={11} />
                </IconButton>
              </span>
            </h2>
            <Drawn size={meter.size} />
          </section>
        );
      })}
      {meters.length === 0 && <p className="p-3 text-soft">No meter is chosen. “Meters” above adds some.</p>}
    </>
  );
}
