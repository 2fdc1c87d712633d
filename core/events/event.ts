import type { Decibels, Frames } from "../audio/units";

/** Something in a recording that wants to be looked at. Frames of the recording. */
export interface DetectedEvent {
  start: Frames;
  end: Frames;
  /** How much: dB, in the sense that its kind gives it. */
  sizeDb: Decibels;
}
