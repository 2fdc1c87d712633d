/** Makes pictures of sound from byte ranges of a recording: a tile at a time, what is looked at first. */
import { editListSource } from "@core/edit-list/edit-list-source";
import type { Clip } from "@core/edit-list/clip";
import { openSoundFile } from "@core/files/open";
import type { SoundFile } from "@core/files/sound-file";
import type { FrameSource } from "@core/audio/frame-source";
import { SpectrogramBuilder, type SpectrogramSettings } from "@core/spectrogram/spectrogram";
import type { RepairStep } from "@core/repair";
import { repairedSource } from "@core/repair/repaired-source";
import { framesOf, type Frames, type Planar } from "@core/audio/units";
import { httpSource, type HttpSourceOptions } from "./http-source";
import { contentHashOf, RepairCache } from "./repair-cache";

export interface SpectrogramRequest {
  id: number;
  url: string;
  /** Shown after these. Columns far apart show the recording as it came. */
  repairs: RepairStep[];
  /** Then arranged like this; frames are those of what comes out. */
  clips: Clip[] | null;
  /** A channel, or `null` for the mean of all. */
  channel: number | null;
  settings: SpectrogramSettings;
  /** Middle of the first column, frames. */
  first: Frames;
  hop: Frames;
  columns: number;
}

/** `levels`: [column][row]; `null` where it could not be made. */
export interface SpectrogramAnswer {
  id: number;
  levels: Uint8Array | null;
}

const scope = self as unknown as DedicatedWorkerGlobalScope;
/** Each recording twice: to be read through, and in places far apart. */
const files = new Map<string, Promise<SoundFile | undefined>>();
const SPARSE: HttpSourceOptions = { chunkBytes: 1 << 15, ahead: 0 };
/** Places that are asked for at a time. */
const AT_ONCE = 4;
const makers = new Map<string, SpectrogramBuilder>();
const MOST_MAKERS = 4;
/** Columns further apart than so many windows are made of the windows alone: not everything between is read. */
const READ_ALL_BELOW = 2;

function opened(url: string, sparse: boolean): Promise<SoundFile | undefined> {
  const key = `${sparse}/${url}`;
  let file = files.get(key);
  if (!file) {
    file = httpSource(url, sparse ? SPARSE : {}).then(openSoundFile);
    files.set(key, file);
    file.catch(() => files.delete(key));
  }
  return file;
}

const repairStore = new RepairCache();
/** What is shown: read through, and in places far apart. */
const shown = new Map<boolean, { key: string; source: FrameSource }>();

function itemOf({ url, repairs, clips }: SpectrogramRequest, file: SoundFile, sparse: boolean): FrameSource {
  const steps = sparse ? [] : repairs;
  if (steps.length === 0 && !clips) return file;
  const key = JSON.stringify([url, steps, clips]);
  const latest = shown.get(sparse);
  if (latest?.key === key) return latest.source;
  repairStore.lookAgain();
  const repaired = repairedSource(file, steps, { content: contentHashOf(url), store: repairStore });
  const source = editListSource(repaired, clips);
  shown.set(sparse, { key, source });
  return source;
}

function makerOf(settings: SpectrogramSettings, sampleRate: number): SpectrogramBuilder {
  const key = JSON.stringify([settings, sampleRate]);
  let maker = makers.get(key);
  if (!maker) {
    if (makers.size >= MOST_MAKERS) makers.delete(makers.keys().next().value!);
    maker = new SpectrogramBuilder(settings, sampleRate);
    makers.set(key, maker);
  }
  return maker;
}

/** Frames `from` … `to` of one channel, or of the mean of all; silence outside of the recording. */
async function samples(file: FrameSource, channel: number | null, from: Frames, to: Frames): Promise<Float32Array> {
  const first = Math.max(0, from);
  const block: Planar = await file.read(first, Math.max(0, Math.min(file.frames, to) - first));
  const out = new Float32Array(to - from);
  const late = first - from;
  const frames = framesOf(block);
  if (channel !== null) out.set(block[channel]!, late);
  else for (const x of block) for (let i = 0; i < frames; i++) out[late + i]! += x[i]! / block.length;
  for (let i = 0; i < out.length; i++) if (!Number.isFinite(out[i]!)) out[i] = 0;
  return out;
}

async function make(request: SpectrogramRequest): Promise<Uint8Array> {
  const { url, channel, settings, first, hop, columns } = request;
  const sparse = hop > READ_ALL_BELOW * settings.points;
  const file = await opened(url, sparse);
  if (!file) throw new Error("cannot be read");
  const item = itemOf(request, file, sparse);
  const maker = makerOf(settings, file.sampleRate);
  const { reach } = maker;
  const levels = new Uint8Array(columns * settings.rows);
  const wanted = Math.min(columns, Math.ceil((item.frames - first) / hop));
  if (!sparse) {
    const x = await samples(item, channel, first - reach, first + (wanted - 1) * hop + reach);
    maker.columns(x, reach, hop, wanted, levels);
    return levels;
  }
  let next = 0;
  const lane = async () => {
    while (next < wanted) {
      const column = next++;
      const middle = first + column * hop;
      const x = await samples(item, channel, middle - reach / 2, middle + reach / 2);
      maker.columns(x, reach / 2, hop, 1, levels.subarray(column * settings.rows));
    }
  };
  await Promise.all(Array.from({ length: AT_ONCE }, lane));
  return levels;
}

scope.onmessage = ({ data }: MessageEvent<SpectrogramRequest>) => {
  const answer = (levels: Uint8Array | null) =>
    scope.postMessage({ id: data.id, levels } satisfies SpectrogramAnswer, levels ? [levels.buffer] : []);
  make(data).then(answer, () => answer(null));
};
