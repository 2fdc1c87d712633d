import type { EditList } from "@core/edit-list/edit-list";
import { framesOfClip } from "@core/edit-list/clip";
import { editListSource } from "@core/edit-list/edit-list-source";
import type { WaveformPeakCache } from "@core/measure/waveform-peak-cache";
import { VALUES } from "@core/measure/waveform-peaks";
import { emptyPlanar, framesOf, type Planar } from "@core/audio/units";
import type { Columns, RecordingOverview } from "./recording-overview";

/** What is drawn of an item: the overview of its recording, piece by piece. Frames are the item's. */
export class ItemWaveform {
  constructor(
    readonly recording: RecordingOverview,
    readonly arrangement: EditList,
  ) {}

  get channels(): number {
    return this.recording.header.channels;
  }

  /** Columns of `width` pixels from `start`, `framesPerPixel` wide each; repaired, as far as that is known. */
  columns(start: number, framesPerPixel: number, width: number, repaired?: WaveformPeakCache | null): Columns {
    const recorded = (from: number, count: number): Columns => {
      const columns = this.recording.columns(from, framesPerPixel, count);
      repaired?.drawOver(columns, from, framesPerPixel);
      return columns;
    };
    if (this.arrangement.isWhole) return recorded(start, width);
    const out = Array.from({ length: this.channels }, () => new Float32Array(width * VALUES).fill(NaN));
    const { placed } = this.arrangement;
    for (let index = this.arrangement.indexAt(start); index < placed.length; index++) {
      const { clip, at } = placed[index]!;
      const from = Math.max(0, Math.round((at - start) / framesPerPixel));
      const to = Math.min(width, Math.round((at + framesOfClip(clip) - start) / framesPerPixel));
      if (from >= width) break;
      if (to <= from) continue;
      const first = clip.start + start + from * framesPerPixel - at;
      const part = clip.kind === "recording" ? recorded(Math.max(0, first), to - from) : null;
      out.forEach((column, c) => {
        // Silence and room tone are drawn as the line that they nearly are.
        if (part) column.set(part[c]!, from * VALUES);
        else column.fill(0, from * VALUES, to * VALUES);
      });
    }
    return out;
  }

  /** Samples of all channels, read now. */
  async readSamples(start: number, end: number): Promise<Planar> {
    if (this.arrangement.isWhole) return this.recording.readSamples(start, end);
    const { recorded, clips } = this.arrangement;
    const source = {
      sampleRate: this.recording.header.sampleRate,
      channels: this.channels,
      frames: recorded,
      read: (from: number, count: number) => this.recording.readSamples(from, from + count),
    };
    return editListSource(source, clips).read(start, end - start);
  }

  /** Samples `start`…`end`, if they are there; asks for them otherwise. A crossfade is not drawn. */
  samples(start: number, end: number): { start: number; block: Planar } | undefined {
    if (this.arrangement.isWhole) return this.recording.samples(start, end);
    const block = emptyPlanar(this.channels, end - start);
    const { placed } = this.arrangement;
    for (let index = this.arrangement.indexAt(start); index < placed.length; index++) {
      const { clip, at } = placed[index]!;
      if (at >= end) break;
      if (clip.kind !== "recording") continue;
      const from = Math.max(start, at);
      const to = Math.min(end, at + framesOfClip(clip));
      const shift = clip.start - at;
      const held = this.recording.samples(from + shift, to + shift);
      if (!held) return undefined;
      const late = from + shift - held.start;
      const count = Math.min(to - from, framesOf(held.block) - late);
      if (late >= 0) block.forEach((x, c) => x.set(held.block[c]!.subarray(late, late + count), from - start));
    }
    return { start, block };
  }
}
