import { ByteWriter, view } from "./chunk-bytes";

/** The loudness of the programme (EBU R 128); `null` where it could not be measured. */
export type BroadcastLoudness = Record<
  "integratedLufs" | "loudnessRangeLu" | "truePeakDbtp" | "momentaryMaxLufs" | "shortTermMaxLufs",
  number | null
>;

/** The `bext` chunk, version 2 (EBU Tech 3285), with its loudness fields. Text is ASCII, cut at the field's width. */
export interface BroadcastExtension {
  description: string;
  originator: string;
  originatorReference: string;
  /** "yyyy-mm-dd" and "hh:mm:ss"; empty where the same bytes must come again at any time. */
  date: string;
  time: string;
  /** Frames from midnight to the first one; 0 where nothing tells it. */
  timeReference: number;
  loudness?: BroadcastLoudness;
}

const BODY_SIZE = 602;
/** Behind description, originator, reference, date and time. */
const TIME_REFERENCE_AT = 338;

/** Frames from midnight that a `bext` chunk tells; 0 where it tells none. */
export function timeReferenceOf(body: Uint8Array): number {
  if (body.length < TIME_REFERENCE_AT + 8) return 0;
  return Number(view(body).getBigUint64(TIME_REFERENCE_AT, true));
}
const UNKNOWN = 0x7fff; // Tech 3285: a loudness field that holds nothing

const hundredths = (level: number | null | undefined): number =>
  level === null || level === undefined ? UNKNOWN : Math.round(level * 100) & 0xffff;

/** The chunk with its header: always the same length, so that it can be patched. */
export function bextChunk(extension: BroadcastExtension): Uint8Array {
  const { loudness } = extension;
  const writer = new ByteWriter().ascii("bext").u32(BODY_SIZE);
  writer.ascii(extension.description, 256).ascii(extension.originator, 32).ascii(extension.originatorReference, 32);
  writer.ascii(extension.date, 10).ascii(extension.time, 8).u64(extension.timeReference).u16(2).zeros(64);
  writer.u16(hundredths(loudness?.integratedLufs)).u16(hundredths(loudness?.loudnessRangeLu));
  writer.u16(hundredths(loudness?.truePeakDbtp)).u16(hundredths(loudness?.momentaryMaxLufs));
  writer.u16(hundredths(loudness?.shortTermMaxLufs));
  return writer.zeros(180).done();
}
