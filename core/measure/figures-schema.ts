/** The figures of a recording as they stand in JSON, for whoever checks or describes them. */
import * as z from "zod";
import type { ChannelFaultKind } from "./channel-faults";
import type { Figures } from "./index";

/** `null` where there is nothing to measure, or where it is −∞. */
const figure = (words: string) => z.number().nullable().describe(words);
const perChannel = (words: string) => z.array(z.number().nullable()).describe(words);
const at = (words: string) => z.number().nullable().describe(`Seconds: ${words}`);
const seconds = z.number();
const FAULT_KINDS = ["dead", "duplicate", "inverted", "quieter", "swapped"] as const satisfies ChannelFaultKind[];

export const figuresSchema: z.ZodType<Figures> = z
  .object({
    sampleRate: z.number().describe("Hz."),
    channels: z.number().int(),
    layout: z.string(),
    frames: z.number().int(),
    durationSeconds: z.number(),
    integratedLufs: figure("Integrated loudness, LUFS (ITU-R BS.1770)."),
    loudnessRangeLu: figure("Loudness range, LU (EBU Tech 3342)."),
    momentaryMaxLufs: figure("Highest momentary loudness (400 ms), LUFS."),
    momentaryMaxSeconds: at("where that window ends."),
    shortTermMaxLufs: figure("Highest short-term loudness (3 s), LUFS."),
    shortTermMaxSeconds: at("where that window ends."),
    loudnessSharePerChannelDb: perChannel("What each channel gives to the loudness; null for LFE and silence."),
    truePeakDbtp: figure("True peak, dBTP."),
    truePeakSeconds: at("where it is."),
    truePeakPerChannelDbtp: perChannel("True peak of each channel, dBTP."),
    truePeakFilter: z.string(),
    plrLu: figure("True peak less integrated loudness, LU."),
    psrMinLu: figure("Lowest difference of true peak and short-term loudness, LU."),
    psrMinSeconds: at("where those 3 s end."),
    samplePeakDbfs: figure("Sample peak, dBFS."),
    samplePeakPerChannelDbfs: perChannel("Sample peak of each channel, dBFS."),
    rmsDbfs: figure("RMS of all channels, dBFS."),
    rmsPerChannelDbfs: perChannel("RMS of each channel, dBFS."),
    loudestRmsDbfs: figure("RMS of the loudest 500 ms, dBFS."),
    loudestRmsSeconds: at("where they begin."),
    loudestRmsPerChannelDbfs: perChannel("The same of each channel, dBFS."),
    quietestRmsDbfs: figure("RMS of the quietest 500 ms, dBFS."),
    quietestRmsSeconds: at("where they begin."),
    quietestRmsPerChannelDbfs: perChannel("The same of each channel, dBFS."),
    dcOffset: z.array(z.number()).describe("Mean of each channel."),
    noiseFloorDbfs: figure("Lowest RMS over any 500 ms, digital silence left out, dBFS."),
    noiseFloorSeconds: at("where that window starts."),
    headSilenceSeconds: z.number().describe("Digital silence before the first sample that is not 0."),
    tailSilenceSeconds: z.number().describe("Digital silence after the last sample that is not 0."),
    headRoomToneSeconds: at("before the first wanted sound, digital silence included."),
    tailRoomToneSeconds: at("after the last wanted sound, digital silence included."),
    clippedRuns: z.object({
      count: z.number().int(),
      longestSamples: z.number().int(),
      belowFullScale: z.boolean(),
      places: z.array(z.object({ channel: z.string(), seconds, samples: z.number().int(), levelDbfs: z.number() })),
    }),
    nonFiniteSamples: z.number().int().describe("Samples that are no number."),
    nonFinitePlaces: z.array(z.object({ channel: z.string(), seconds })).describe("Where the first of them are."),
    correlation: figure("Of a stereo pair, −1…1."),
    correlationPerPair: z.array(
      z.object({
        pair: z.tuple([z.string(), z.string()]),
        correlation: z.number().nullable(),
        levelAware: z.number().nullable().describe("Where the weaker channel is within 20 dB of the stronger."),
        judgedPercent: z.number(),
      }),
    ),
    balanceLu: figure("Loudness of the left side over that of the right, LU."),
    monoLossLu: figure("What the fold to mono loses, LU: 0 for equal sides, 3 for unrelated ones."),
    widthDb: figure("Energy of the side over that of the middle, dB."),
    dialogueLufs: figure("Loudness of the stretches that seem to be speech: an estimate, LUFS."),
    dialoguePercent: z.number(),
    dialogueStretches: z.array(z.object({ startSeconds: z.number(), endSeconds: z.number() })),
    thirdOctaveDbfs: perChannel("Levels of the third-octave bands 20 Hz … 20 kHz, dBFS."),
    spectralTiltDbPerOctave: figure("Slope of these levels between 100 Hz and 10 kHz."),
    bandwidthHz: figure("Where the spectrum falls off a cliff below half the rate, Hz."),
    bandwidthConfidence: z.number(),
    humHz: figure("Fundamental of a mains hum, Hz."),
    humAboveFloorDb: figure("How far its harmonics stand above the floor around them, dB."),
    humHarmonics: z.array(z.number()),
    channelFaults: z.array(
      z.object({
        channel: z.string(),
        kind: z.enum(FAULT_KINDS),
        other: z.string().nullable().describe("The channel that it is held against."),
        belowDb: z.number().nullable(),
      }),
    ),
  })
  .meta({ id: "Figures" });
