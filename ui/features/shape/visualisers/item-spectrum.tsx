"use client";

import { useMemo } from "react";
import { joinedBands } from "@core/measure/spectrum";
import { SPECTRUM_ROWS, spectrumRow } from "@core/report/drawings";
import type { Decibels, Hertz } from "@core/audio/units";
import { useCurrentItem } from "@ui/state/current-item";
import { curvePath, type PlotScale } from "./frequency-plot";

/** Average spectrum of the item in hand as it comes into its chain, in sixths of an octave. */
export function useItemSpectrum(): { hertz: Hertz; dbfs: Decibels }[] {
  const { facts } = useCurrentItem();
  const spectra = facts?.curves.spectraDbfs;
  return useMemo(() => {
    if (!spectra || spectra.values.length === 0) return [];
    return joinedBands(spectrumRow(spectra, SPECTRUM_ROWS.average), 4).filter(({ dbfs }) => Number.isFinite(dbfs));
  }, [spectra]);
}

/** Levels of the spectrum are drawn on a ruler of their own: so many dB fill the height. */
const RANGE_DB = 72;

/** The spectrum before as a ground, after as a line: the loudest band lies near the top. */
export function ItemSpectrum({
  scale,
  spectrum,
  response,
}: {
  scale: PlotScale;
  spectrum: readonly { hertz: Hertz; dbfs: Decibels }[];
  /** What is done to it, dB. */
  response: (hertz: Hertz) => Decibels;
}) {
  if (spectrum.length === 0) return null;
  const most = Math.max(...spectrum.map(({ dbfs }) => dbfs));
  const onRuler: PlotScale = { ...scale, y: (db) => scale.height * (0.08 + (most - db) / RANGE_DB) };
  const before = curvePath(
    onRuler,
    spectrum.map(({ hertz, dbfs }) => [hertz, dbfs] as const),
  );
  const after = curvePath(
    onRuler,
    spectrum.map(({ hertz, dbfs }) => [hertz, dbfs + response(hertz)] as const),
  );
  const [first, last] = [spectrum[0]!, spectrum.at(-1)!];
  return (
    <>
      <path
        d={`${before}L${scale.x(last.hertz)} ${scale.height}L${scale.x(first.hertz)} ${scale.height}Z`}
        fill="var(--grid)"
        opacity={0.75}
      />
      <path d={after} fill="none" stroke="var(--ink)" strokeWidth={1} opacity={0.8} />
    </>
  );
}
