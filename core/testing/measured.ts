/** Measures blocks that lie in memory: for tests only. */
import { Analysis } from "../measure/analysis";
import { Measurer, type Figures } from "../measure";
import { LongTermSpectra } from "../measure/long-term-spectra";
import type { MeasurementDefinition } from "../measure/measurement";
import type { StreamFormat } from "../audio/stream-format";
import { layoutNamed } from "../audio/layout";
import { framesOf, slicePlanar, type Planar } from "../audio/units";

export const format = (sampleRate = 48_000, layout = "stereo"): StreamFormat => ({
  sampleRate,
  layout: layoutNamed(layout)!,
});

/** All figures, fed in blocks of a size. */
export function measured(block: Planar, stream: StreamFormat, blockSize = 4096): Figures {
  const measurer = new Measurer(stream);
  for (let at = 0; at < framesOf(block); at += blockSize)
    measurer.process(slicePlanar(block, at, Math.min(framesOf(block), at + blockSize)));
  return measurer.result().figures;
}

/** One measurement alone. */
export function measuredBy<F, C>(definition: MeasurementDefinition<F, C>, block: Planar, stream: StreamFormat) {
  const measurement = definition.create(stream);
  const spectra = new LongTermSpectra();
  const analysis = new Analysis(stream, {
    block: (tick) => measurement.block?.(tick),
    segment: (segment) => spectra.add(segment),
  });
  analysis.process(block, framesOf(block));
  analysis.finish();
  return measurement.result(spectra);
}
