import { LONGEST_INTERPOLATED } from "../audio/non-finite";
import { formatDb } from "../audio/format";
import type { Limit } from "../delivery/spec";
import { checkLimit, marginWords } from "../delivery/compliance";
import type { Finder } from "./finding";

/** A mean above this shifts the waveform visibly: −50 dBFS. */
const DC_OFFSET = 0.00316;
const SHOWN_PLACES = 50;

const limitOf = (limits: readonly Limit[] | undefined, figure: Limit["figure"]) =>
  limits?.find((limit) => limit.figure === figure);

export const levels: readonly Finder[] = [
  {
    kind: "clipping",
    find({ clippedRuns: { count, longestSamples, belowFullScale, places } }) {
      if (count === 0) return [];
      return [
        {
          about: null,
          severity: "fault",
          title: `Clipped at ${count} ${count === 1 ? "place" : "places"}`,
          facts: `The longest run has ${longestSamples} samples${
            belowFullScale
              ? `, at ${formatDb(places[0]?.levelDbfs ?? null)} dBFS: it was clipped, and turned down after`
              : ""
          }.`,
          advice: "Ask for an unclipped recording; or mend the clipped runs.",
          places: places.slice(0, SHOWN_PLACES).map(({ seconds }) => ({ seconds: seconds - 0.005, length: 0.01 })),
        },
      ];
    },
  },
  {
    kind: "dc",
    find: ({ dcOffset, channels }) =>
      dcOffset.flatMap((offset, channel) =>
        Math.abs(offset) < DC_OFFSET
          ? []
          : [
              {
                about: String(channel),
                severity: "doubt" as const,
                title: channels === 1 ? "DC offset" : `DC offset in channel ${channel + 1}`,
                facts: `${formatDb(offset * 100, { digits: 2 })} % of full scale.`,
                advice: "A high-pass filter below 20 Hz takes it away and gives back headroom.",
                places: [],
              },
            ],
      ),
  },
  {
    kind: "floor",
    find(figures, spec) {
      const limit = limitOf(spec?.limits, "noiseFloorDbfs");
      if (!limit) return [];
      if (figures.noiseFloorDbfs === null)
        return [
          {
            about: spec!.name,
            severity: "note",
            title: "No noise floor can be told",
            facts: "There is no half second of room: the pauses are digital silence, or the recording is too short.",
            advice: "Limits of the floor are met by silence. A gate that closes is heard, though: put room tone there.",
            places: [],
          },
        ];
      const { status } = checkLimit(limit, figures.noiseFloorDbfs);
      if (status !== "fail") return [];
      return [
        {
          about: spec!.name,
          severity: "fault",
          title: "The noise floor is over its limit",
          facts: `${formatDb(figures.noiseFloorDbfs)} dBFS in the quietest half second: ${marginWords(limit, figures.noiseFloorDbfs)}.`,
          advice: "Reduce the noise, and mind that gain lifts the floor as well.",
          places: figures.noiseFloorSeconds === null ? [] : [{ seconds: figures.noiseFloorSeconds, length: 0.5 }],
        },
      ];
    },
  },
  {
    kind: "non-finite",
    find({ nonFiniteSamples, nonFinitePlaces }) {
      if (nonFiniteSamples === 0) return [];
      return [
        {
          about: null,
          severity: "fault",
          title: `${nonFiniteSamples} samples are no numbers`,
          facts: `NaN or infinite; they are measured as silence. In masters up to ${LONGEST_INTERPOLATED} in a row are interpolated, more are silent.`,
          advice: "Export the recording again: something went wrong when it was made.",
          places: nonFinitePlaces.map(({ seconds }) => ({ seconds: seconds - 0.005, length: 0.01 })),
        },
      ];
    },
  },
];
