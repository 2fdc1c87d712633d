import type { BlockContext } from "../audio/block-context";
import type * as z from "zod";
import type { Parameters, SettingsOf } from "../parameters/parameter";
import type { Region } from "./time-frequency-region";
import type { Frames, Hertz, Planar, Seconds } from "../audio/units";

/** What a repair needs to know of what it works on. */
export interface RepairFormat {
  sampleRate: Hertz;
  channels: number;
  /** Where the step applies, for repairs that must know; nothing for the whole. */
  regions?: readonly Region[];
}

/** Changes `from`…`to` of a block in place; the surroundings may be spoilt. Keeps nothing from one block to the next. */
export type RepairWork = (block: Planar, place: BlockContext) => void;

/** Something that a repair does at one place, for lists: a click, a clipped stretch. Frames of the recording. */
export interface RepairEvent {
  start: Frames;
  end: Frames;
  channel: number;
  /** How much: dB by which it stands out, or is cut. */
  sizeDb: number;
  /** What is done there, where a repair does one thing or another. */
  description?: string;
}

/** Fades at the ends of regions: within them, or before and after. */
export interface Edges {
  seconds: Seconds;
  outside: boolean;
}

/**
 * Everything that others need to know of a repair; forms, validation, help, CLI and tests come from it. A repair works
 * on stretches apart, with surroundings, and shifts nothing in time: any stretch can be made anew, in any order, by
 * anyone, with the same result.
 */
export interface RepairDefinition<P extends Parameters = Parameters> {
  id: string;
  name: string;
  /** One line: what it is for. */
  help: string;
  parameters: P;
  /** What is learned or listed rather than set: a noise profile, tones. Optional in every step. */
  learned?: z.ZodType;
  /** What its editor shows beside its settings: how it learns, what it found, or what it is made of. */
  panel?: "noise profile" | "room" | "hum" | "tones" | "similar regions" | "parts";
  /** How what it does comes and goes at the ends of its regions; absent for 5 ms within them. */
  edges?(settings: SettingsOf<P>): Edges;
  /** How far to each side the surroundings of a stretch matter. */
  contextSeconds(settings: SettingsOf<P>, learned: unknown): Seconds;
  /** Whether these settings change nothing; the step is then passed over, to the bit. */
  isNeutral(settings: SettingsOf<P>, learned: unknown): boolean;
  /** Loads what the repair needs, before it is first created; nothing where it is there. */
  prepare?(): Promise<void>;
  create(settings: SettingsOf<P>, learned: unknown, format: RepairFormat): RepairWork;
  /** What would be done where, for repairs that do something at places. */
  find?(
    settings: SettingsOf<P>,
    learned: unknown,
    format: RepairFormat,
  ): (block: Planar, place: BlockContext) => RepairEvent[];
  /** The settings in a few words: "12 dB down". */
  summary(settings: SettingsOf<P>, learned: unknown): string;
}
