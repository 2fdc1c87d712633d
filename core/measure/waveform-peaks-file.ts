/**
 * The file an overview is kept in: a JSON header in a fixed space, then float32 tables that can be read by byte
 * range: the levels, finest first, and the curves over time.
 */
import { power } from "../math/deterministic-math";
import * as z from "zod";
import { BASE_BIN, LEVEL_FACTOR, VALUES } from "./waveform-peaks";
import type { Curves } from ".";
import type { TimeSeries } from "./measurement";
import { FileProblem, type ByteSource } from "../files/bytes";

export const HEADER_BYTES = 4096;

const tableSchema = z.object({ offset: z.number(), count: z.number() });
const headerSchema = z.object({
  version: z.literal(2),
  sampleRate: z.number(),
  channels: z.number(),
  frames: z.number(),
  levels: z.array(tableSchema.extend({ binFrames: z.number() })),
  curves: z.record(z.string(), tableSchema.extend({ hopSeconds: z.number(), columns: z.number() })),
});
export type WaveformPeaksHeader = z.infer<typeof headerSchema>;
export type WaveformPeaksLevel = WaveformPeaksHeader["levels"][number];
type OverviewCurve = WaveformPeaksHeader["curves"][string];

const floats = (values: Float32Array): Uint8Array =>
  new Uint8Array(values.buffer, values.byteOffset, values.byteLength);

/** What follows the finest level in the file, and the header that describes it all. */
export function waveformPeaksTail(
  about: Pick<WaveformPeaksHeader, "sampleRate" | "channels" | "frames">,
  baseValues: number,
  coarser: Float32Array[],
  curves: Curves,
): { tail: Uint8Array[]; header: Uint8Array } {
  let offset = HEADER_BYTES + baseValues * 4;
  const perBin = about.channels * VALUES;
  const levels = [{ offset: HEADER_BYTES, count: baseValues / perBin, binFrames: BASE_BIN }];
  const tail: Uint8Array[] = [];
  const append = (values: Float32Array) => {
    const at = offset;
    tail.push(floats(values));
    offset += values.byteLength;
    return at;
  };
  coarser.forEach((values, index) => {
    levels.push({
      offset: append(values),
      count: values.length / perBin,
      binFrames: BASE_BIN * power(LEVEL_FACTOR, index + 1),
    });
  });
  const tables = Object.entries(curves).map(([name, { values, hopSeconds, columns }]: [string, TimeSeries]) => [
    name,
    { offset: append(values), count: values.length, hopSeconds, columns },
  ]);
  const header: WaveformPeaksHeader = {
    version: 2,
    ...about,
    levels,
    curves: Object.fromEntries(tables) as WaveformPeaksHeader["curves"],
  };
  const text = JSON.stringify(header).padEnd(HEADER_BYTES, " ");
  return { tail, header: Uint8Array.from(text, (character) => character.charCodeAt(0)) };
}

/** @throws FileProblem where it is no overview of this version */
export async function readWaveformPeaksHeader(source: ByteSource): Promise<WaveformPeaksHeader> {
  const text = String.fromCharCode(...(await source.read(0, HEADER_BYTES)));
  try {
    return headerSchema.parse(JSON.parse(text));
  } catch {
    throw new FileProblem(
      "The overview of the recording is damaged or of another version. Measure the recording again.",
    );
  }
}

async function readFloats(source: ByteSource, offset: number, count: number): Promise<Float32Array> {
  const bytes = await source.read(offset, count * 4);
  return new Float32Array(bytes.slice().buffer);
}

/** Bins `first`…`first + count` of a level: [bin][channel][min, max, rms]. */
export function readBins(
  source: ByteSource,
  header: WaveformPeaksHeader,
  level: WaveformPeaksLevel,
  first: number,
  count: number,
) {
  const perBin = header.channels * VALUES;
  const wanted = Math.max(0, Math.min(count, level.count - first));
  return readFloats(source, level.offset + first * perBin * 4, wanted * perBin);
}

/** All curves. Those that are only drawn are as large as the recording is long, and no larger than 16 MB each. */
export async function readCurves(source: ByteSource, header: WaveformPeaksHeader): Promise<Curves> {
  const read = async ([name, { offset, count, hopSeconds, columns }]: [string, OverviewCurve]) =>
    [name, { hopSeconds, columns, values: await readFloats(source, offset, count) }] as const;
  // The file was written from `Curves`, and its version says which those are.
  return Object.fromEntries(await Promise.all(Object.entries(header.curves).map(read))) as unknown as Curves;
}
