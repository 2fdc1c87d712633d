/**
 * Pictures of a recording as tiles, by how close they are: each tile is made once by a worker when it is first looked
 * at, and kept while there is room. What is not there yet is drawn from a coarser tile, or from the bands of the whole.
 */
import { PersistentWorker, type WorkerLike } from "@playback/persistent-worker";
import type { SpectrogramAnswer, SpectrogramRequest } from "@playback/spectrogram.worker";
import { byteOfPower, dbOfByte, type SpectrogramSettings } from "@core/spectrogram/spectrogram";
import { hertzAt, shareOf } from "@core/spectrogram/frequency-rows";
import type { Clip } from "@core/edit-list/clip";
import type { RepairStep } from "@core/repair";
import { BAND_COUNT, BAND_EDGES } from "@core/measure/analysis-block";
import type { TimeSeries } from "@core/measure/measurement";
import { pixelsOfLevels, type PaletteName } from "../canvas/scales";

export const TILE_COLUMNS = 128;
/** Rows of all pictures. */
export const SPECTROGRAM_ROWS = 256;
const MOST_TILES = 400;
const FINEST_HOP = 32;
/** How many times coarser a tile may be that stands in for one that is not there yet. */
const COARSER = [1, 2, 4, 8, 16, 32];
/** Columns of the picture of the whole, at most. */
const MOST_BAND_COLUMNS = 2048;
const WORKERS = 2;
/** Tiles are asked for once the window has stood still for so long: making them would make it move in jerks. */
const STILL_MS = 70;
/** Tiles that are turned into pictures in one drawing; the others follow in the next. */
const IMAGES_AT_ONCE = 1;
/** Tiles under way in a worker: few, so that what is looked at now need not wait for what was before. */
const IN_FLIGHT = 2;

interface Tile {
  levels: Uint8Array;
  /** Drawn with one look; made again when that changes. */
  image: { look: string; bitmap: ImageBitmap } | null;
}

interface Wanted {
  key: string;
  request: Omit<SpectrogramRequest, "id">;
}

const nameOf = ({ kind, points, scale, low, high }: SpectrogramSettings, channel: number | null): string =>
  `${kind}/${points}/${scale}/${low}/${high}/${channel}`;

interface PictureLookup {
  low: number;
  high: number;
  palette: PaletteName;
}

/** What is drawn on: the part of a canvas context that pictures use. */
type Target = Pick<CanvasRenderingContext2D, "drawImage" | "imageSmoothingEnabled">;

export class SpectrogramTiles {
  readonly #tiles = new Map<string, Tile | "failed">();
  readonly #workers: { worker: WorkerLike; busy: number }[] = [];
  readonly #underWay = new Map<number, { key: string; slot: number }>();
  #wanted: Wanted[] = [];
  #ids = 0;
  #still: { place: string; timer: ReturnType<typeof setTimeout> | undefined } = { place: "", timer: undefined };
  #bands: { settings: string; tile: Tile; columns: number; hopSeconds: number } | undefined;

  constructor(
    readonly url: string,
    /** What is done to the recording before it is shown. */
    readonly repairs: RepairStep[],
    /** What is shown of it, in which order; `null` for all of it. */
    readonly clips: Clip[] | null,
    readonly sampleRate: number,
    readonly frames: number,
    readonly bandPowers: TimeSeries,
    readonly onArrival: () => void,
    /** Whether something is heard: pictures then wait for each other, so that it is not disturbed. */
    readonly isHeard: () => boolean,
  ) {}

  /** Hop of the columns for a number of frames a pixel: a power of two, no finer than the overlap asks for. */
  static hopOf(framesPerPixel: number, finest: number): number {
    let hop = finest;
    while (hop * 2 <= framesPerPixel) hop *= 2;
    return hop;
  }

  /**
   * Draws the picture from frame `start` over `width` × `height` pixels, and asks for what is missing.
   * @param finest the smallest hop
   */
  draw(
    target: Target,
    area: { width: number; height: number; top: number },
    start: number,
    framesPerPixel: number,
    settings: SpectrogramSettings,
    channel: number | null,
    finest: number,
    look: PictureLookup,
  ): { complete: boolean } {
    const name = nameOf(settings, channel);
    const hop = SpectrogramTiles.hopOf(framesPerPixel, finest);
    const span = hop * TILE_COLUMNS;
    const end = Math.min(this.frames, start + framesPerPixel * area.width);
    // In a low lane several rows share a pixel: the strongest is shown, so that no thin line is lost.
    const pooled = Math.max(1, 2 ** Math.floor(Math.log2(settings.rows / Math.max(1, area.height))));
    const lookName = `${look.palette}/${look.low}/${look.high}/${pooled}`;
    const complete = this.ask(area.width, start, framesPerPixel, settings, channel, finest);
    let made = 0;
    /** Whether a tile may be drawn now: its picture is there, or one more can be made. */
    const affordable = (tile: Tile): boolean => {
      if (tile.image?.look === lookName) return true;
      if (made++ === IMAGES_AT_ONCE) this.onArrival();
      return made <= IMAGES_AT_ONCE;
    };
    const parts: { tile: Tile; from: number; columns: number; left: number }[] = [];
    let gaps = false;
    for (let tile = Math.floor(Math.max(0, start) / span); tile * span < end; tile++) {
      const left = (tile * span - start) / framesPerPixel;
      // The finest that is there.
      const found = COARSER.some((coarser) => {
        const key = `${name}/${hop * coarser}/${Math.floor(tile / coarser)}`;
        const held = this.#tiles.get(key);
        if (!(held instanceof Object) || !affordable(held)) return false;
        this.#touch(key, held);
        const from = ((tile % coarser) / coarser) * TILE_COLUMNS;
        parts.push({ tile: held, from, columns: TILE_COLUMNS / coarser, left });
        return true;
      });
      gaps ||= !found;
    }
    if (gaps) this.#drawBands(target, area, start, framesPerPixel, settings, pooled, lookName, look);
    target.imageSmoothingEnabled = true;
    for (const { tile, from, columns, left } of parts)
      target.drawImage(
        this.#imageOf(tile, settings.rows, TILE_COLUMNS, pooled, lookName, look),
        from,
        0,
        columns,
        settings.rows / pooled,
        left,
        area.top,
        span / framesPerPixel,
        area.height,
      );
    return { complete };
  }

  /** Asks for what is missing of a stretch. @returns whether nothing is */
  ask(
    width: number,
    start: number,
    framesPerPixel: number,
    settings: SpectrogramSettings,
    channel: number | null,
    finest: number,
  ): boolean {
    const name = nameOf(settings, channel);
    const hop = SpectrogramTiles.hopOf(framesPerPixel, finest);
    const span = hop * TILE_COLUMNS;
    const end = Math.min(this.frames, start + framesPerPixel * width);
    const wanted: Wanted[] = [];
    for (let tile = Math.floor(Math.max(0, start) / span); tile * span < end; tile++) {
      const key = `${name}/${hop}/${tile}`;
      if (this.#tiles.has(key)) continue;
      const first = tile * span + Math.floor(hop / 2);
      wanted.push({
        key,
        request: {
          url: this.url,
          repairs: this.repairs,
          clips: this.clips,
          channel,
          settings,
          first,
          hop,
          columns: TILE_COLUMNS,
        },
      });
    }
    this.#want(wanted, `${name}/${start}/${framesPerPixel}`);
    return wanted.length === 0;
  }

  /** Levels of the column at a frame, from the finest tile that is there; `null` where none is. */
  column(frame: number, settings: SpectrogramSettings, channel: number | null): Uint8Array | null {
    const name = nameOf(settings, channel);
    for (let hop = FINEST_HOP; hop < this.frames; hop *= 2) {
      const tile = Math.floor(frame / (hop * TILE_COLUMNS));
      const held = this.#tiles.get(`${name}/${hop}/${tile}`);
      if (!(held instanceof Object)) continue;
      const column = Math.floor(frame / hop) - tile * TILE_COLUMNS;
      return held.levels.subarray(column * settings.rows, (column + 1) * settings.rows);
    }
    return null;
  }

  /** Level at a place, dBFS; `null` where no tile is there. */
  levelAt(frame: number, hertz: number, settings: SpectrogramSettings, channel: number | null): number | null {
    const column = this.column(frame, settings, channel);
    const row = Math.floor(shareOf(hertz, settings) * settings.rows);
    return column && row >= 0 && row < settings.rows ? dbOfByte(column[row]!) : null;
  }

  /** To the end: the tiles that were drawn longest ago go first. */
  #touch(key: string, tile: Tile): void {
    this.#tiles.delete(key);
    this.#tiles.set(key, tile);
  }

  #imageOf(tile: Tile, rows: number, columns: number, pooled: number, lookName: string, look: PictureLookup) {
    if (tile.image?.look === lookName) return tile.image.bitmap;
    tile.image?.bitmap.close();
    const height = rows / pooled;
    const canvas = new OffscreenCanvas(columns, height);
    const context = canvas.getContext("2d")!;
    const image = context.createImageData(columns, height);
    const pixels = new Uint32Array(image.data.buffer);
    const ink = pixelsOfLevels(look.palette, dbOfByte, look.low, look.high);
    for (let column = 0; column < columns; column++)
      for (let y = 0; y < height; y++) {
        let most = 0;
        for (let row = y * pooled; row < (y + 1) * pooled; row++) {
          const level = tile.levels[column * rows + row]!;
          if (level > most) most = level;
        }
        pixels[(height - 1 - y) * columns + column] = ink[most]!;
      }
    context.putImageData(image, 0, 0);
    const bitmap = canvas.transferToImageBitmap();
    tile.image = { look: lookName, bitmap };
    return bitmap;
  }

  /** The whole in half octaves, from what was measured at intake: something is always there. */
  #drawBands(
    target: Target,
    { width, height, top }: { width: number; height: number; top: number },
    start: number,
    framesPerPixel: number,
    settings: SpectrogramSettings,
    pooled: number,
    lookName: string,
    look: PictureLookup,
  ): void {
    const bands = this.#bandsFor(settings);
    if (!bands) return;
    const perColumn = bands.hopSeconds * this.sampleRate;
    const perTile = Math.max(1, Math.ceil(bands.columns / MOST_BAND_COLUMNS));
    const from = Math.max(0, start / perColumn);
    const to = Math.min(bands.columns, (start + width * framesPerPixel) / perColumn);
    if (to <= from) return;
    // Smoothed only where it is drawn larger than it is.
    target.imageSmoothingEnabled = perColumn * perTile > framesPerPixel;
    target.drawImage(
      this.#imageOf(bands.tile, settings.rows, Math.ceil(bands.columns / perTile), pooled, lookName, look),
      from / perTile,
      0,
      (to - from) / perTile,
      settings.rows / pooled,
      (from * perColumn - start) / framesPerPixel,
      top,
      ((to - from) * perColumn) / framesPerPixel,
      height,
    );
  }

  #bandsFor(settings: SpectrogramSettings) {
    const name = `${settings.scale}/${settings.low}/${settings.high}/${settings.rows}`;
    if (this.#bands?.settings === name) return this.#bands;
    const { values, hopSeconds } = this.bandPowers;
    const columns = values.length / BAND_COUNT;
    if (columns === 0) return undefined;
    const perTile = Math.max(1, Math.ceil(columns / MOST_BAND_COLUMNS));
    const width = Math.ceil(columns / perTile);
    const levels = new Uint8Array(width * settings.rows);
    const bandOfRow = Array.from({ length: settings.rows }, (_, row) => {
      const hertz = hertzAt((row + 0.5) / settings.rows, settings);
      return BAND_EDGES.findIndex((edge, band) => edge <= hertz && hertz < (BAND_EDGES[band + 1] ?? 0));
    });
    for (let column = 0; column < width; column++) {
      const bytes = Array.from({ length: BAND_COUNT }, (_, band) =>
        byteOfPower(values[column * perTile * BAND_COUNT + band]! / BINS_IN_BAND),
      );
      for (let row = 0; row < settings.rows; row++) levels[column * settings.rows + row] = bytes[bandOfRow[row]!] ?? 0;
    }
    this.#bands = { settings: name, tile: { levels, image: null }, columns, hopSeconds };
    return this.#bands;
  }

  /** What is looked at now comes before all that was asked for earlier. */
  #want(wanted: Wanted[], place: string): void {
    const underWay = new Set([...this.#underWay.values()].map(({ key }) => key));
    this.#wanted = [...wanted.filter(({ key }) => !underWay.has(key)), ...this.#wanted]
      .filter(({ key }, index, all) => all.findIndex((other) => other.key === key) === index)
      .slice(0, 64);
    if (place === this.#still.place) return;
    clearTimeout(this.#still.timer);
    this.#still = { place, timer: setTimeout(() => this.#send(), STILL_MS) };
  }

  #send(): void {
    if (this.#wanted.length > 0 && this.#workers.length === 0)
      for (let slot = 0; slot < WORKERS; slot++) this.#workers.push({ worker: this.#start(slot), busy: 0 });
    const calm = this.isHeard();
    for (const [slot, own] of (calm ? this.#workers.slice(0, 1) : this.#workers).entries()) {
      while (own.busy < (calm ? 1 : IN_FLIGHT)) {
        const next = this.#wanted.shift();
        if (!next) return;
        const id = this.#ids++;
        own.busy++;
        this.#underWay.set(id, { key: next.key, slot });
        own.worker.postMessage({ ...next.request, id } satisfies SpectrogramRequest);
      }
    }
  }

  #start(slot: number): WorkerLike {
    const worker = new PersistentWorker(
      () => new Worker(new URL("@playback/spectrogram.worker.ts", import.meta.url), { type: "module" }),
    );
    worker.onmessage = ({ data }: MessageEvent<SpectrogramAnswer>) => {
      const done = this.#underWay.get(data.id);
      if (!done) return;
      this.#underWay.delete(data.id);
      this.#workers[slot]!.busy--;
      this.#tiles.set(done.key, data.levels ? { levels: data.levels, image: null } : "failed");
      for (const oldest of this.#tiles.keys()) {
        if (this.#tiles.size <= MOST_TILES) break;
        this.#tiles.delete(oldest);
      }
      this.#send();
      this.onArrival();
    };
    return worker;
  }

  close(): void {
    for (const { worker } of this.#workers) worker.terminate();
    this.#workers.length = 0;
    clearTimeout(this.#still.timer);
    this.#underWay.clear();
    this.#wanted = [];
  }
}

/** A band's energy lies in many bins; drawn as if it were spread over so many of them. */
const BINS_IN_BAND = 12;

/** The tone of a column: where its energy lies on the axis, from 0 to 1; `null` in silence. */
export function balanceOf(levels: ArrayLike<number>, settings: SpectrogramSettings): number | null {
  let sum = 0;
  let weighted = 0;
  for (let row = 0; row < settings.rows; row++) {
    const power = 10 ** (dbOfByte(levels[row]!) / 10);
    sum += power;
    weighted += power * (row + 0.5);
  }
  if (sum < 1e-12) return null;
  return balanceShare(hertzAt(weighted / sum / settings.rows, settings));
}

const TONE_AXIS = { scale: "log", low: 80, high: 8000 } as const;
export const balanceShare = (hertz: number): number => Math.max(0, Math.min(1, shareOf(hertz, TONE_AXIS)));
