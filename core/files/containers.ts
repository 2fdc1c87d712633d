/** What masters can be kept in, and what each can hold. */
import type { Hertz } from "../audio/units";

/** Bits of whole numbers, or 32-bit floating point. */
export const DEPTHS = ["16", "24", "32", "32f"] as const;
export type Depth = (typeof DEPTHS)[number];

export const CONTAINERS = ["wav", "rf64", "bw64", "aiff", "flac", "mp3", "m4a", "opus", "video"] as const;
export type Container = (typeof CONTAINERS)[number];

export interface ContainerAbout {
  name: string;
  help: string;
  extension: string;
  mediaType: string;
  /** Empty where sound is kept by what is heard of it. */
  depths: readonly Depth[];
  /** Rates that it can hold; `null` for any. */
  sampleRates: readonly Hertz[] | null;
  mostChannels: number;
  /** Steps of the data rate of lossy files for stereo, kbit/s; `null` where nothing is lost. */
  bitrateKbps: readonly number[] | null;
  /** Whether a quality may be chosen instead of a rate. */
  variable: boolean;
}

const KEPT = { sampleRates: null, mostChannels: 24, bitrateKbps: null, variable: false } as const;
const MP3_RATES = [8000, 11025, 12000, 16000, 22050, 24000, 32000, 44100, 48000] as const;
const AAC_RATES = [...MP3_RATES, 64000, 88200, 96000] as const;

export const CONTAINER_ABOUT: Readonly<Record<Container, ContainerAbout>> = {
  wav: {
    ...KEPT,
    name: "WAV",
    help: "Broadcast wave; becomes RF64 where it grows past 4 GiB",
    extension: "wav",
    mediaType: "audio/wav",
    depths: DEPTHS,
  },
  rf64: {
    ...KEPT,
    name: "RF64",
    help: "WAV with long sizes from the start",
    extension: "wav",
    mediaType: "audio/wav",
    depths: DEPTHS,
  },
  bw64: {
    ...KEPT,
    name: "BW64 with ADM",
    help: "Says of each channel where it belongs, by the Audio Definition Model",
    extension: "wav",
    mediaType: "audio/wav",
    depths: DEPTHS,
  },
  aiff: {
    ...KEPT,
    name: "AIFF",
    help: "Most significant byte first; AIFF-C where samples are floating",
    extension: "aif",
    mediaType: "audio/aiff",
    depths: DEPTHS,
  },
  flac: {
    ...KEPT,
    name: "FLAC",
    help: "Smaller, nothing lost",
    extension: "flac",
    mediaType: "audio/flac",
    depths: ["16", "24"],
    mostChannels: 8,
  },
  mp3: {
    name: "MP3",
    help: "Played everywhere",
    extension: "mp3",
    mediaType: "audio/mpeg",
    depths: [],
    sampleRates: MP3_RATES,
    mostChannels: 2,
    bitrateKbps: [64, 96, 128, 160, 192, 224, 256, 320],
    variable: true,
  },
  m4a: {
    name: "AAC in MP4",
    help: "With chapters and a cover",
    extension: "m4a",
    mediaType: "audio/mp4",
    depths: [],
    sampleRates: AAC_RATES,
    mostChannels: 8,
    bitrateKbps: [64, 96, 128, 160, 192, 256, 320],
    variable: false,
  },
  opus: {
    name: "Opus",
    help: "The smallest for its quality; always at 48 kHz",
    extension: "opus",
    mediaType: "audio/ogg",
    depths: [],
    sampleRates: [48000],
    mostChannels: 8,
    bitrateKbps: [32, 48, 64, 96, 128, 160, 192, 256],
    variable: true,
  },
  video: {
    name: "Video, its sound replaced",
    help: "The picture is copied as it is",
    extension: "",
    mediaType: "video/mp4",
    depths: [],
    sampleRates: AAC_RATES,
    mostChannels: 8,
    bitrateKbps: [128, 160, 192, 256, 320],
    variable: false,
  },
};

/** Whether what is decoded differs from what was put in. */
export const isLossy = (container: Container): boolean => CONTAINER_ABOUT[container].bitrateKbps !== null;

/** Whether the core writes it itself. */
export const isOwnContainer = (container: Container): boolean => ["wav", "rf64", "bw64", "aiff"].includes(container);

/** Whether the tags in a file of this kind can be changed, to the bytes of a render, without touching its sound. */
export const isRetaggable = (container: Container): boolean =>
  isOwnContainer(container) || container === "flac" || container === "mp3";
