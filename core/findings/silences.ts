import { formatTime } from "../audio/format";
import type { Finder } from "./finding";

/** Digital silence at an end is worth a word from here on. */
const WORTH_A_WORD_SECONDS = 1;
/** Room tone that is longer than any delivery wants. */
const LONG_TONE_SECONDS = 5;

const end = (seconds: number, length: number) => ({ seconds: Math.max(0, seconds), length });

export const silences: readonly Finder[] = [
  {
    kind: "digital-silence",
    find({ headSilenceSeconds, tailSilenceSeconds, durationSeconds }) {
      if (headSilenceSeconds >= durationSeconds)
        return [
          {
            about: null,
            severity: "fault",
            title: "Nothing but digital silence",
            facts: "Every sample is exactly 0.",
            advice: "Check which file was exported.",
            places: [],
          },
        ];
      const ends = [
        { name: "head", length: headSilenceSeconds, from: 0 },
        { name: "tail", length: tailSilenceSeconds, from: durationSeconds - tailSilenceSeconds },
      ];
      return ends
        .filter(({ length }) => length >= WORTH_A_WORD_SECONDS)
        .map(({ name, length, from }) => ({
          about: name,
          severity: "doubt" as const,
          title: `Digital silence at the ${name}`,
          facts: `${formatTime(length, 1)} of exact zeros.`,
          advice: "Trim it; where room tone is wanted, put room tone.",
          places: [end(from, length)],
        }));
    },
  },
  {
    kind: "long-ends",
    find({ headRoomToneSeconds, tailRoomToneSeconds, headSilenceSeconds, tailSilenceSeconds, durationSeconds }) {
      const ends = [
        { name: "head", length: headRoomToneSeconds, silent: headSilenceSeconds, from: 0 },
        {
          name: "tail",
          length: tailRoomToneSeconds,
          silent: tailSilenceSeconds,
          from: durationSeconds - (tailRoomToneSeconds ?? 0),
        },
      ];
      return ends
        .filter(({ length, silent }) => length !== null && length - silent > LONG_TONE_SECONDS)
        .map(({ name, length, from }) => ({
          about: name,
          severity: "doubt" as const,
          title: `A long ${name} of room tone`,
          facts: `${formatTime(length!, 1)} ${name === "head" ? "before the first" : "after the last"} wanted sound.`,
          advice: "Trim it; keep a stretch to learn the noise from.",
          places: [end(from, length!)],
        }));
    },
  },
];
