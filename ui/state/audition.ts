"use client";

/** Stretches of the programme heard one after the other: all joins, heads and tails. */
import { create } from "zustand";
import { engine } from "./listening-engine";

/** A stretch in frames of the programme. */
export interface Stretch {
  start: number;
  end: number;
  /** What it is, for the bar: "join 3 → 4". */
  name: string;
  /** The item that it belongs to. */
  item: string;
}

interface Audition {
  stretches: readonly Stretch[];
  /** Which one is heard. */
  at: number;
}

/** What is heard one after the other; `null` where nothing is. */
export const useAudition = create<{ audition: Audition | null }>(() => ({ audition: null }));

/** A stretch counts as heard to its end within this. */
const END_FRAMES = 4096;

function play({ stretches, at }: Audition): void {
  useAudition.setState({ audition: { stretches, at } });
  const { start, end } = stretches[at]!;
  void engine().playStretch(start, end);
}

let following = false;
let wasPlaying = false;

/** Goes on with the next stretch where one was heard to its end; ends where a person stopped it. */
function follow(): void {
  const { playing } = engine().state;
  const stopped = wasPlaying && !playing;
  wasPlaying = playing;
  const { audition } = useAudition.getState();
  if (!stopped || !audition) return;
  const { end } = audition.stretches[audition.at]!;
  const isHeard = engine().position >= end - END_FRAMES;
  const next = audition.at + 1;
  if (isHeard && next < audition.stretches.length) play({ ...audition, at: next });
  else useAudition.setState({ audition: null });
}

export function startAudition(stretches: readonly Stretch[], at = 0): void {
  if (!following) {
    engine().subscribe(follow);
    following = true;
  }
  if (stretches.length > 0) play({ stretches, at: Math.max(0, Math.min(at, stretches.length - 1)) });
}

export function stopAudition(): void {
  useAudition.setState({ audition: null });
  engine().pause();
}
