/**
 * The file an overview is kept in: a JSON header in a fixed space, then float32 tables that can be read by byte
 * range: the levels, finest first, and the curves over time.
 */
import { z } from "zod";
import { BASE_BIN, LEVEL_FACTOR, VALUES } from "../measure/overview";
import type { Curves } from "../measure";
import type { ByteSource } from "./bytes";

export const HEADER_BYTES = 4096;

const tableSchema = z.object({ offset: z.number(), count: z.number() });
const headerSchema = z.object({
  version: z.literal(1),
  sampleRate: z.number(),
  channels: z.number(),
  frames: z.number(),
  levels: z.array(tableSchema.extend({ binFrames: z.number() })),
  curves: z.record(
    z.enum(["momentaryLufs", "shortTermLufs", "samplePeakDbfs"]),
    tableSchema.extend({ hopSeconds: z.number() }),
  ),
});
export type OverviewHeader = z.infer<typeof headerSchema>;
export type OverviewLevel = OverviewHeader["levels"][number];

const floats = (values: Float32Array): Uint8Array =>
  new Uint8Array(values.buffer, values.byteOffset, values.byteLength);

/** What follows the finest level in the file, and the header that describes it all. */
export function overviewTail(
  about: Pick<OverviewHeader, "sampleRate" | "channels" | "frames">,
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
      binFrames: BASE_BIN * LEVEL_FACTOR ** (index + 1),
    });
  });
  const curve = (name: keyof Curves) => {
    const { values, hopSeconds } = curves[name];
    return { offset: append(values), count: values.length, hopSeconds };
  };
  const header: OverviewHeader = {
    version: 1,
    ...about,
    levels,
    curves: {
      momentaryLufs: curve("momentaryLufs"),
      shortTermLufs: curve("shortTermLufs"),
      samplePeakDbfs: curve("samplePeakDbfs"),
    },
  };
  const text = JSON.stringify(header).padEnd(HEADER_BYTES, " ");
  return { tail, header: Uint8Array.from(text, (character) => character.charCodeAt(0)) };
}

export async function readOverviewHeader(source: ByteSource): Promise<OverviewHeader> {
  return headerSchema.parse(JSON.parse(String.fromCharCode(...(await source.read(0, HEADER_BYTES)))));
}

async function readFloats(source: ByteSource, offset: number, count: number): Promise<Float32Array> {
  const bytes = await source.read(offset, count * 4);
  return new Float32Array(bytes.slice().buffer);
}

/** Bins `first`…`first + count` of a level: [bin][channel][min, max, rms]. */
export function readBins(
  source: ByteSource,
  header: OverviewHeader,
  level: OverviewLevel,
  first: number,
  count: number,
) {
  const perBin = header.channels * VALUES;
  const wanted = Math.max(0, Math.min(count, level.count - first));
  return readFloats(source, level.offset + first * perBin * 4, wanted * perBin);
}

export async function readCurves(source: ByteSource, header: OverviewHeader): Promise<Curves> {
  const read = async (name: keyof Curves) => {
    const { offset, count, hopSeconds } = header.curves[name];
    return { hopSeconds, values: await readFloats(source, offset, count) };
  };
  return {
    momentaryLufs: await read("momentaryLufs"),
    shortTermLufs: await read("shortTermLufs"),
    samplePeakDbfs: await read("samplePeakDbfs"),
  };
}
