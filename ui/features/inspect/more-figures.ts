import type { Figures } from "@core/measure";
import { formatDb, formatTime } from "@core/audio/format";

interface Shown {
  /** Instead of the figure's own label. */
  label?: string;
  text: string;
  unit?: string;
  /** Seconds of the measured stretch. */
  place: { seconds: number; length: number } | null;
}

interface MoreFigure {
  label: string;
  help: string;
  /** `null` where the figure says nothing of this recording. */
  read(figures: Figures): Shown | null;
}

const level = (value: number | null, unit: string, place: Shown["place"] = null, digits = 1): Shown | null =>
  value === null ? null : { text: formatDb(value, { digits }), unit, place };

const at = (seconds: number | null, length: number, back = 0) =>
  seconds === null ? null : { seconds: seconds - back, length };

/** Figures that no specification limits, each with what it is. */
export const MORE_FIGURES: readonly MoreFigure[] = [
  { label: "Peak to loudness", help: "True peak less integrated loudness", read: (f) => level(f.plrLu, "LU") },
  {
    label: "Lowest peak to short-term",
    help: "True peak less short-term loudness of the same 3 s, where it is lowest: there the peaks were cut most",
    read: (f) => level(f.psrMinLu, "LU", at(f.psrMinSeconds, 3, 3)),
  },
  {
    label: "Speech",
    help: "Loudness of the stretches that seem to be speech: by the pace of syllables, pauses, and where the energy is",
    read: (f) => {
      const first = f.dialogueStretches[0];
      if (f.dialogueLufs === null || !first) return null;
      return {
        label: `Speech, about ${formatDb(f.dialoguePercent, { digits: 0 })} %`,
        text: formatDb(f.dialogueLufs),
        unit: "LUFS",
        place: { seconds: first.startSeconds, length: first.endSeconds - first.startSeconds },
      };
    },
  },
  {
    label: "Loudest 500 ms",
    help: "RMS over all channels",
    read: (f) => level(f.loudestRmsDbfs, "dBFS", at(f.loudestRmsSeconds, 0.5)),
  },
  {
    label: "Quietest 500 ms",
    help: "RMS over all channels; digital silence counts here",
    read: (f) =>
      f.quietestRmsSeconds === null
        ? null
        : level(f.quietestRmsDbfs ?? -Infinity, "dBFS", at(f.quietestRmsSeconds, 0.5)),
  },
  { label: "Balance", help: "Loudness of the left side over the right", read: (f) => level(f.balanceLu, "LU") },
  {
    label: "Mono loss",
    help: "Loudness that the fold to mono loses: 0 for equal sides, 3 for unrelated ones",
    read: (f) => level(f.monoLossLu, "LU"),
  },
  { label: "Width", help: "Energy of the side over that of the middle", read: (f) => level(f.widthDb, "dB") },
  {
    label: "Spectral tilt",
    help: "Slope of the third-octave levels between 100 Hz and 10 kHz",
    read: (f) => level(f.spectralTiltDbPerOctave, "dB/oct"),
  },
  {
    label: "Head",
    help: "Lead-in: digital silence and room tone before the first wanted sound",
    read: (f) => ends(f.headRoomToneSeconds, f.headSilenceSeconds, 0),
  },
  {
    label: "Tail",
    help: "Lead-out: room tone and digital silence after the last wanted sound",
    read: (f) =>
      ends(
        f.tailRoomToneSeconds,
        f.tailSilenceSeconds,
        f.durationSeconds - (f.tailRoomToneSeconds ?? f.tailSilenceSeconds),
      ),
  },
];

function ends(roomTone: number | null, silence: number, from: number): Shown | null {
  const length = roomTone ?? silence;
  // A sample or two of zeros are how many sounds begin.
  if (length < 0.05 && roomTone === null) return null;
  const silent = silence > 0.01 ? `, ${formatTime(silence, 1)} of it zeros` : "";
  return { text: `${formatTime(length, 1)}${silent}`, place: length > 0 ? { seconds: from, length } : null };
}
