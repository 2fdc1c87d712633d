/** What a finished master measures, read back from where it lies. */
import type { Layout } from "../audio/layout";
import { stream } from "../audio/stage";
import type { ByteSource } from "../files/bytes";
import { openSoundFile } from "../files/open";
import { Measurer, type Measured } from "../measure";
import { measureSource } from "../measure/measure-source";
import { DownmixStage, measuredLayout } from "./render-plan";
import type { DeliverySpec } from "./spec";

/** Measures a sound file as it lies in storage. `layout` overrules what the file says. */
export async function measureFile(
  source: ByteSource,
  layout: Layout,
  onProgress?: (fraction: number) => void,
): Promise<Measured> {
  const file = await openSoundFile(source);
  if (!file) throw new Error("The rendered file cannot be read back.");
  return measureSource(file, layout, { onProgress });
}

/** Figures of a master; where its spec is measured on a fold-down, the loudness is that of the fold-down. */
export async function measureMaster(
  source: ByteSource,
  layout: Layout,
  spec: DeliverySpec | undefined,
  onProgress: (fraction: number) => void,
): Promise<Measured> {
  const measured = await measureFile(source, layout, onProgress);
  const { fold, layout: foldedLayout } = measuredLayout(layout, spec ?? { measuredOn: "programme" });
  if (!fold) return measured;
  const file = (await openSoundFile(source))!;
  const measurer = new Measurer({ sampleRate: file.sampleRate, layout: foldedLayout });
  await stream(file, [new DownmixStage(fold)], (block) => measurer.process(block));
  const { integratedLufs, momentaryMaxLufs, shortTermMaxLufs, loudnessRangeLu } = measurer.result().figures;
  return {
    ...measured,
    figures: { ...measured.figures, integratedLufs, momentaryMaxLufs, shortTermMaxLufs, loudnessRangeLu },
  };
}
