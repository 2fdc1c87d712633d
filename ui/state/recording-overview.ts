/** What is drawn of a recording: bins of the overview by level, in tiles that are fetched when they are looked at. */
import type { ByteSource } from "@core/files/bytes";
import { openSoundFile } from "@core/files/open";
import {
  readBins,
  readCurves,
  readWaveformPeaksHeader,
  type WaveformPeaksHeader,
} from "@core/measure/waveform-peaks-file";
import type { SoundFile } from "@core/files/sound-file";
import type { Curves } from "@core/measure";
import { VALUES } from "@core/measure/waveform-peaks";
import { framesOf, type Planar } from "@core/audio/units";
import { httpSource, plainHttpSource } from "@playback/http-source";

const TILE_BINS = 2048;
/** About a tile at a time: what lies beside it may never be looked at. */
const TILE_PIECES = { chunkBytes: 1 << 16, ahead: 0 };
/** Closer than this the samples themselves are drawn. */
export const SAMPLES_BELOW_FRAMES_PER_PIXEL = 96;

/** Per pixel column and channel: min, max, RMS. NaN where nothing is known yet. */
export type Columns = Float32Array[];

export class RecordingOverview {
  /** By level and tile. */
  readonly #tiles: (Float32Array | "loading" | undefined)[][];
  #samples: { start: number; block: Planar } | undefined;
  #samplesLoading: { start: number; end: number } | undefined;

  /** There when the overview has been opened. */
  curves!: Curves;

  private constructor(
    readonly header: WaveformPeaksHeader,
    readonly source: ByteSource,
    readonly pcmUrl: string,
    readonly onArrival: () => void,
  ) {
    this.#tiles = header.levels.map(() => []);
  }

  /**
   * Opens a recording's overview; all is there when this resolves. `onWaveform` is called before that, when its
   * waveform can be drawn and its curves are still under way.
   */
  static async open(
    overviewUrl: string,
    pcmUrl: string,
    onArrival: () => void,
    onWaveform?: (data: RecordingOverview) => void,
  ): Promise<RecordingOverview> {
    const source = await httpSource(overviewUrl, TILE_PIECES);
    const header = await readWaveformPeaksHeader(source);
    const data = new RecordingOverview(header, source, pcmUrl, onArrival);
    const coarsest = header.levels.length - 1;
    const tiles = Math.ceil(header.levels[coarsest]!.count / TILE_BINS);
    const waveform = Promise.all(Array.from({ length: tiles }, (_, tile) => data.#load(coarsest, tile)));
    const curves = readCurves(plainHttpSource(overviewUrl, source.size), header);
    curves.catch(() => undefined); // told when it is awaited
    await waveform;
    onWaveform?.(data);
    data.curves = await curves;
    return data;
  }

  async #load(level: number, tile: number): Promise<void> {
    const tiles = this.#tiles[level]!;
    if (tiles[tile] !== undefined) return;
    tiles[tile] = "loading";
    try {
      const { levels } = this.header;
      tiles[tile] = await readBins(this.source, this.header, levels[level]!, tile * TILE_BINS, TILE_BINS);
      this.onArrival();
    } catch {
      tiles[tile] = undefined; // asked for again at the next drawing
    }
  }

  /** The bin, from the level wanted or the finest coarser one that is there; asks for what is missing. */
  #binAt(level: number, frame: number): { values: Float32Array; at: number } | undefined {
    for (let l = level; l < this.header.levels.length; l++) {
      const { binFrames, count } = this.header.levels[l]!;
      const bin = Math.min(count - 1, Math.floor(frame / binFrames));
      if (bin < 0) return undefined;
      const tile = Math.floor(bin / TILE_BINS);
      const values = this.#tiles[l]![tile];
      if (values instanceof Float32Array)
        return { values, at: (bin - tile * TILE_BINS) * this.header.channels * VALUES };
      if (values === undefined && l === level) void this.#load(l, tile);
    }
    return undefined;
  }

  /** Columns of `width` pixels from `start` (frames), `framesPerPixel` wide each. */
  columns(start: number, framesPerPixel: number, width: number): Columns {
    const { levels, channels, frames } = this.header;
    let level = 0;
    while (level + 1 < levels.length && levels[level + 1]!.binFrames <= framesPerPixel) level++;
    const { binFrames } = levels[level]!;
    const columns = Array.from({ length: channels }, () => new Float32Array(width * VALUES).fill(NaN));
    for (let x = 0; x < width; x++) {
      const from = start + x * framesPerPixel;
      const to = Math.min(frames, from + framesPerPixel);
      if (to <= 0 || from >= frames) continue;
      let bins = 0;
      for (let frame = Math.max(0, from); frame < to; frame += binFrames) {
        const bin = this.#binAt(level, frame);
        if (!bin) continue;
        for (let c = 0; c < channels; c++) {
          const { values } = bin;
          const at = bin.at + c * VALUES;
          const column = columns[c]!;
          const out = x * VALUES;
          const rms = values[at + 2]!;
          if (bins === 0) column.set([values[at]!, values[at + 1]!, 0], out);
          if (values[at]! < column[out]!) column[out] = values[at]!;
          if (values[at + 1]! > column[out + 1]!) column[out + 1] = values[at + 1]!;
          column[out + 2]! += rms * rms;
        }
        bins++;
      }
      for (let c = 0; bins > 0 && c < channels; c++) {
        const at = x * VALUES + 2;
        columns[c]![at] = Math.sqrt(columns[c]![at]! / bins);
      }
    }
    return columns;
  }

  /** All channels in one row: the lowest and highest of any, the RMS of all. */
  static folded(columns: Columns): Columns {
    const folded = columns[0]!.slice();
    for (let at = 0; at < folded.length; at += VALUES) {
      let square = 0;
      for (const column of columns) {
        if (column[at]! < folded[at]!) folded[at] = column[at]!;
        if (column[at + 1]! > folded[at + 1]!) folded[at + 1] = column[at + 1]!;
        square += column[at + 2]! ** 2;
      }
      folded[at + 2] = Math.sqrt(square / columns.length);
    }
    return [folded];
  }

  /** Samples of all channels, read now. */
  async readSamples(start: number, end: number): Promise<Planar> {
    this.#file ??= httpSource(this.pcmUrl).then(openSoundFile);
    return (await (await this.#file)?.read(start, end - start)) ?? [];
  }

  /** Samples `start`…`end`, if they are there; asks for them otherwise. */
  samples(start: number, end: number): { start: number; block: Planar } | undefined {
    const held = this.#samples;
    if (held && held.start <= start && held.start + framesOf(held.block) >= Math.min(end, this.header.frames))
      return held;
    void this.#loadSamples(start, end);
    return held && held.start < end && held.start + framesOf(held.block) > start ? held : undefined;
  }

  #file: Promise<SoundFile | undefined> | undefined;

  async #loadSamples(start: number, end: number): Promise<void> {
    const length = end - start;
    const wanted = {
      start: Math.max(0, Math.floor(start - length / 2)),
      end: Math.min(this.header.frames, Math.ceil(end + length / 2)),
    };
    if (this.#samplesLoading && this.#samplesLoading.start <= start && this.#samplesLoading.end >= end) return;
    this.#samplesLoading = wanted;
    try {
      const block = await this.readSamples(wanted.start, wanted.end);
      if (block.length > 0) this.#samples = { start: wanted.start, block };
      this.onArrival();
    } finally {
      if (this.#samplesLoading === wanted) this.#samplesLoading = undefined;
    }
  }
}
