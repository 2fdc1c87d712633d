import { describe, expect, it } from "vitest";
import { EditList } from "@core/edit-list/edit-list";
import { withClipsMoved, replaced, silence } from "@core/edit-list/edits";
import { recordingClip, type Clip } from "@core/edit-list/clip";
import { VALUES } from "@core/measure/waveform-peaks";
import { ItemWaveform } from "./item-waveform";
import type { RecordingOverview } from "./recording-overview";

/** A recording whose column at a frame is that frame. */
const recording = {
  header: { channels: 1, sampleRate: 1000, frames: 1000 },
  columns: (start: number, framesPerPixel: number, width: number) => [
    Float32Array.from({ length: width * VALUES }, (_, i) => start + Math.floor(i / VALUES) * framesPerPixel),
  ],
  samples: (start: number, end: number) => ({
    start,
    block: [Float32Array.from({ length: end - start }, (_, i) => start + i)],
  }),
} as unknown as RecordingOverview;

const whole = [recordingClip(0, 1000)];
const columnsOf = (clips: Clip[], start: number, framesPerPixel: number, width: number) => {
  const [column] = new ItemWaveform(recording, new EditList(clips, 1000)).columns(start, framesPerPixel, width);
  return Array.from({ length: width }, (_, x) => column![x * VALUES]!);
};

describe("the overview of an item", () => {
  it("is the recording's where nothing is cut", () => {
    expect(columnsOf(whole, 100, 10, 3)).toEqual([100, 110, 120]);
  });
  it("goes on behind a cut, and where a piece was moved to", () => {
    expect(columnsOf(replaced(whole, 200, 400), 180, 10, 4)).toEqual([180, 190, 400, 410]);
    expect(columnsOf(withClipsMoved(whole, 500, 520, 100), 90, 10, 5)).toEqual([90, 500, 510, 100, 110]);
  });
  it("is a line where silence was put in, and nothing behind the end", () => {
    const columns = columnsOf(replaced(whole, 200, 1000, [silence(20)]), 190, 10, 5);
    expect(columns.slice(0, 3)).toEqual([190, 0, 0]);
    expect(columns.slice(3).every(Number.isNaN)).toBe(true);
  });
  it("gives the samples of both sides of a crossfade", () => {
    const overview = new ItemWaveform(recording, new EditList(replaced(whole, 200, 400), 1000));
    const { start, block } = overview.samples(198, 202)!;
    expect([start, ...block[0]!]).toEqual([198, 198, 199, 400, 401]);
  });
});
