"use client";

import { processorNamed } from "@core/processors";
import { powerAt } from "@core/dsp/analogue-filter";
import { powerToDb } from "@core/audio/decibel";
import type { Hertz } from "@core/audio/units";
import { curvePath, DRAWN, FrequencyPlot } from "./frequency-plot";
import { ItemSpectrum, useItemSpectrum } from "./item-spectrum";
import type { VisualiserProps } from "./visualiser-props";

/** The magnitude of filters in a row, over the spectrum before and after. */
export function Response({ inHand: { entry, settings }, visualiser }: VisualiserProps<"response">) {
  const sections = visualiser.sections(settings);
  const spectrum = useItemSpectrum();
  const responseDb = (hertz: Hertz) =>
    powerToDb(sections.reduce((product, section) => product * powerAt(section, hertz), 1));
  return (
    <div className="h-[220px] w-[380px]">
      <FrequencyPlot label={`Frequency response of the ${processorNamed(entry.type).name.toLowerCase()}`} rangeDb={24}>
        {(scale) => (
          <>
            <ItemSpectrum scale={scale} spectrum={spectrum} response={responseDb} />
            <path
              d={curvePath(
                scale,
                DRAWN.map((hertz) => [hertz, responseDb(hertz)] as const),
              )}
              fill="none"
              stroke="var(--act)"
              strokeWidth={2}
            />
          </>
        )}
      </FrequencyPlot>
    </div>
  );
}
