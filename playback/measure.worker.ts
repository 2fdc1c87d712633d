/** Measures a recording, a stretch, a fold or a difference in the browser, by the same core as the server. */
import type { Alignment } from "@core/compare/alignment";
import { linearPart, type LinearPart } from "@core/compare/linear-part";
import { editListSource } from "@core/edit-list/edit-list-source";
import type { Clip } from "@core/edit-list/clip";
import { openSoundFile } from "@core/files/open";
import type { SoundFile } from "@core/files/sound-file";
import type { FrameSource } from "@core/audio/frame-source";
import { Measurer, type Measured } from "@core/measure";
import type { StreamFormat } from "@core/audio/stream-format";
import { measureSource } from "@core/measure/measure-source";
import { soloSource } from "@core/monitoring/solo-source";
import type { RepairStep } from "@core/repair";
import { repairedSource, type SegmentStore } from "@core/repair/repaired-source";
import type { Band } from "@core/dsp/butterworth";
import type { ChainEntry } from "@core/processors";
import { ChainStage, type Reductions } from "@core/render/chain-stage";
import { levelsOf, type KnownLevels } from "@core/delivery/predict-chain";
import { ReductionHistory, type ReductionCurves } from "@core/render/reduction-history";
import { stream, type Stage, type StreamRange } from "@core/audio/stage";
import type { Planar } from "@core/audio/units";
import type { DownmixMatrix } from "@core/audio/downmix";
import { layoutForChannels, type Layout } from "@core/audio/layout";
import { compared } from "./comparison";
import { fileSource } from "./file-source";
import { httpSource } from "./http-source";
import { contentHashOf, RepairCache } from "./repair-cache";

/** What is measured: a file that a person dropped, or one that the server keeps. */
export type Measurable = { file: File } | { url: string };

export interface MeasureRequest {
  source: Measurable;
  /** Which channel is which; `null` takes what the file says. */
  layout: Layout | null;
  /** Frames of what is measured; `null` for all. */
  range?: StreamRange | null;
  /** Measures the fold of the channels. `layout` says what they fold to. */
  fold?: DownmixMatrix;
  /** Measures it after these. */
  repairs?: RepairStep[];
  /** Measures it arranged like this, after its repairs. */
  clips?: Clip[] | null | undefined;
  /** Measures it after this chain, which it is read through from its beginning. */
  chain?: ChainEntry[];
  /** Measures only this of it. */
  part?: { band?: Band | undefined; channels?: readonly number[] | undefined };
  /** Measures what is left when this is taken away, aligned. */
  subtract?: Measurable;
  /** Whether that was made of this as it is repaired and arranged: the two lie at one place. */
  madeOfIt?: boolean;
  /** Whether to tell what was measured so far. */
  reportsProgress?: boolean;
}

/** What was measured along a chain. */
export interface AlongChain {
  /** What its processors took off over time. */
  reductions: ReductionCurves;
  /** Levels after each of them. */
  known: KnownLevels;
}

/** What the file said of itself. */
export interface MeasuredFile {
  warnings: string[];
}

export type MeasureAnswer =
  | { type: "progress"; fraction: number; soFar: Measured | null }
  | {
      type: "done";
      measured: Measured;
      file: MeasuredFile;
      alignment: Alignment | null;
      linear: LinearPart | null;
      /** What was measured along its chain; `null` where it was not read through one. */
      along: AlongChain | null;
    }
  /** `foreign`: not a format of the core's own, so that the server must read it. */
  | { type: "failed"; message: string; foreign: boolean };

const scope = self as unknown as DedicatedWorkerGlobalScope;
const answer = (message: MeasureAnswer) => scope.postMessage(message);

/** Measuring reads through once: what it makes itself is not worth keeping. */
const repairStore = new RepairCache();
const readOnly: SegmentStore = { get: (key) => repairStore.get(key), put: () => undefined };

const PROGRESS_MS = 150;
const SO_FAR_MS = 1000;
const REDUCTION_HOP_SECONDS = 0.1;

class Foreign extends Error {}

async function opened(source: Measurable): Promise<SoundFile> {
  const file = await openSoundFile("file" in source ? fileSource(source.file) : await httpSource(source.url));
  if (!file) throw new Foreign("This format is read by the server.");
  if (file.frames === 0) throw new Error("The file holds no sound: its sound data is empty.");
  return file;
}

async function measure({
  source,
  layout,
  range,
  fold,
  repairs,
  clips,
  chain,
  part,
  subtract,
  madeOfIt,
  reportsProgress,
}: MeasureRequest): Promise<void> {
  const file = await opened(source);
  const content = "url" in source ? contentHashOf(source.url) : source.file.name;
  const repaired = repairedSource(file, repairs ?? [], { content, store: readOnly });
  const other = subtract && (await opened(subtract));
  const made = editListSource(repaired, clips);
  const comparison = other && (await compared(made, other, madeOfIt ?? false));
  const alignment = comparison?.alignment ?? null;
  const whole = comparison?.difference ?? made;
  if (chain?.some(({ bypass }) => !bypass)) {
    const { measured, along } = await throughChain(whole, chain, layout);
    return answer({ ...done(measured, file), along });
  }
  const linear = other && alignment ? await linearPart(made, other, alignment) : null;
  const measuredSource = part ? soloSource(whole, part) : whole;
  const given = part?.channels ? layoutForChannels(part.channels.length) : layout;
  const known = given?.speakers.length === measuredSource.channels || fold ? given : file.layout;
  let told = performance.now();
  let toldFigures = told;
  const measured = await measureSource(measuredSource, known ?? layoutForChannels(measuredSource.channels), {
    range: range ?? undefined,
    fold,
    onProgress(fraction, soFar) {
      const now = performance.now();
      if (!reportsProgress || now - told < PROGRESS_MS) return;
      const withFigures = now - toldFigures >= SO_FAR_MS;
      told = now;
      if (withFigures) toldFigures = now;
      answer({ type: "progress", fraction, soFar: withFigures ? soFar() : null });
    },
  });
  answer({ ...done(measured, file), alignment, linear });
}

const done = (measured: Measured, file: SoundFile) =>
  ({ type: "done", measured, file: { warnings: file.warnings }, alignment: null, linear: null, along: null }) as const;

/** Measures what passes, and lets it pass. */
class Tap implements Stage {
  readonly #measurer: Measurer;

  constructor(format: StreamFormat) {
    this.#measurer = new Measurer(format);
  }

  push(block: Planar): Planar {
    this.#measurer.process(block);
    return block;
  }

  finish(): Planar {
    return [];
  }

  result(): Measured {
    return this.#measurer.result();
  }
}

/** The figures of a source after a chain, and after each of its processors. @throws Error where one fails */
async function throughChain(source: FrameSource, given: readonly ChainEntry[], layout: Layout | null) {
  const format = { sampleRate: source.sampleRate, layout: layout ?? layoutForChannels(source.channels) };
  const chain = given.filter(({ bypass }) => !bypass);
  const stages = chain.map((entry) => new ChainStage([entry], format));
  const taps = chain.map(() => new Tap(format));
  const blockFrames = Math.round(REDUCTION_HOP_SECONDS * source.sampleRate);
  const history = new ReductionHistory(blockFrames / source.sampleRate);
  const take = () => history.add(Object.assign({}, ...stages.map((stage) => stage.takeGainReduction())) as Reductions);
  await stream(
    source,
    stages.flatMap((stage, n) => [stage, taps[n]!]),
    take,
    { blockFrames },
  );
  const [failure] = stages.flatMap(({ failures }) => failures);
  if (failure) throw new Error(failure.why);
  const results = taps.map((tap) => tap.result());
  const known = { chain, after: results.map(({ figures, curves }) => levelsOf(figures, curves)) };
  return { measured: results.at(-1)!, along: { reductions: history.result(), known } };
}

scope.onmessage = ({ data }: MessageEvent<MeasureRequest>) => {
  measure(data).catch((error: unknown) => {
    answer({
      type: "failed",
      message: error instanceof Error ? error.message : String(error),
      foreign: error instanceof Foreign,
    });
  });
};
