/** What people usually do to a recording of each kind of project: offered where nothing is done yet. */
import { newChainEntry, processorNamed, type ChainEntry } from "../processors";
import type { TemplateId } from "./templates";

export interface UsualProcessor {
  type: string;
  /** Name of the preset that it begins with. */
  preset: string;
  /** What it is for here. */
  why: string;
}

export interface UsualRepair {
  type: string;
  why: string;
}

const LAST: UsualProcessor = { type: "limiter", preset: "Safety", why: "catches what is left over the ceiling" };
const NO_RUMBLE: UsualProcessor = { type: "filter", preset: "Below a voice", why: "steps, traffic and handling go" };

const VOICE: UsualProcessor[] = [
  NO_RUMBLE,
  { type: "equaliser", preset: "Voice, clearer", why: "less boom, words nearer" },
  { type: "de-esser", preset: "Bright voice", why: "s and sh no longer stand out" },
  { type: "compressor", preset: "Even out a reader", why: "loud and quiet words come together" },
  LAST,
];

/** In the order of the chain. */
export const USUAL_CHAINS: Readonly<Record<TemplateId, readonly UsualProcessor[]>> = {
  music: [
    { type: "filter", preset: "Below music", why: "what no loudspeaker plays, but every limiter feels" },
    { type: "equaliser", preset: "Firm bass", why: "the broad balance: move its bands, or take them out" },
    { type: "compressor", preset: "Hold a mix together", why: "one or two decibels where it is loudest" },
    { type: "width", preset: "Mono bass", why: "for vinyl and small loudspeakers" },
    LAST,
  ],
  audiobook: VOICE,
  podcast: [{ type: "leveller", preset: "Talk", why: "several voices, far and near, come to one level" }, ...VOICE],
  broadcast: [
    NO_RUMBLE,
    { type: "leveller", preset: "Talk", why: "voices that come and go, before anything compresses" },
    { type: "compressor", preset: "Catch what jumps out", why: "single loud words or strokes" },
    LAST,
  ],
  immersive: [
    { type: "filter", preset: "Below music", why: "what no loudspeaker plays" },
    { type: "compressor", preset: "Hold a mix together", why: "all channels by the same gain" },
    LAST,
  ],
  video: [
    NO_RUMBLE,
    { type: "compressor", preset: "Catch what jumps out", why: "single loud places, the rest left alone" },
    LAST,
  ],
};

const SPEECH_REPAIRS: UsualRepair[] = [
  { type: "voice-clean-up", why: "clicks, noise and room by one control, whose parts can be opened" },
  { type: "noise", why: "learn it from a pause, then turn it down as far as is needed" },
  { type: "mouth-noise", why: "clicks of lips and tongue between words" },
  { type: "clicks", why: "crackle and digital errors" },
  { type: "reverberation", why: "a room that stands between voice and listener" },
];

export const USUAL_REPAIRS: Readonly<Record<TemplateId, readonly UsualRepair[]>> = {
  music: [
    { type: "clicks", why: "of old media and bad edits" },
    { type: "clipping", why: "tops that were cut off come back" },
    { type: "hum", why: "mains and its harmonics" },
    { type: "noise", why: "tape and amplifiers: learn it where nothing plays" },
  ],
  audiobook: SPEECH_REPAIRS,
  podcast: SPEECH_REPAIRS,
  broadcast: [...SPEECH_REPAIRS.slice(0, 4), { type: "hum", why: "mains and its harmonics" }],
  immersive: [
    { type: "channel-repair", why: "sides that are swapped, opposed, late or uneven" },
    { type: "clicks", why: "crackle and digital errors" },
    { type: "noise", why: "beds that hiss: learn it from a pause" },
  ],
  video: [
    { type: "speech-denoise", why: "traffic and wind that change while somebody speaks" },
    { type: "noise", why: "air and cameras: learn it from a pause" },
    { type: "hum", why: "lamps and mains" },
    { type: "reverberation", why: "a microphone that stood too far away" },
  ],
};

/** @param id of the new entry */
export function usualEntry({ type, preset }: UsualProcessor, id: string): ChainEntry {
  const settings = processorNamed(type).presets.find(({ name }) => name === preset)?.settings;
  return { ...newChainEntry(type, id), ...settings } as ChainEntry;
}
