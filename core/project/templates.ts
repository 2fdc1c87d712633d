import { PLAIN_PROGRAMME } from "../programme/programme";
import { PLAIN_NAMING, projectAboutSchema, type ProjectDocument, type TEMPLATE_IDS } from "./document";
import { newFormat, type MasterFormat } from "../delivery/recipe";

export type TemplateId = (typeof TEMPLATE_IDS)[number];

interface Template {
  id: TemplateId;
  name: string;
  help: string;
  deliverables: { spec: string; format: MasterFormat }[];
}

const wav = (sampleRate?: number): MasterFormat => newFormat(sampleRate ? { sampleRate } : {});

/** What a new project begins with. */
export const TEMPLATES: readonly Template[] = [
  {
    id: "music",
    name: "Music release",
    help: "Singles and albums for streaming and download",
    deliverables: [
      { spec: "streaming-14", format: wav(44100) },
      { spec: "aes77-music-track", format: wav() },
    ],
  },
  {
    id: "audiobook",
    name: "Audiobook",
    help: "Chapters of speech, mono",
    deliverables: [
      { spec: "audiobook-retail", format: wav(44100) },
      { spec: "mono-speech-19", format: wav(44100) },
      { spec: "aes77-speech", format: wav(44100) },
    ],
  },
  {
    id: "broadcast",
    name: "Broadcast programme",
    help: "Radio and television at −23 LUFS",
    deliverables: [{ spec: "ebu-r128", format: wav(48000) }],
  },
  {
    id: "podcast",
    name: "Podcast",
    help: "Talk in stereo or mono",
    deliverables: [
      { spec: "streaming-16", format: wav(44100) },
      { spec: "mono-speech-19", format: wav(44100) },
    ],
  },
  {
    id: "immersive",
    name: "Immersive programme",
    help: "5.1 to 22.2, checked channel by channel",
    deliverables: [{ spec: "ebu-r128", format: wav(48000) }],
  },
  {
    id: "video",
    name: "Sound for a video",
    help: "The sound of a film, at 48 kHz",
    deliverables: [
      { spec: "ebu-r128", format: wav(48000) },
      { spec: "streaming-14", format: wav(48000) },
    ],
  },
];

/** A document without recordings. */
export function newProject(name: string, templateId: TemplateId): ProjectDocument {
  const template = TEMPLATES.find(({ id }) => id === templateId)!;
  const deliverables = template.deliverables.map((deliverable, index) => ({ id: `d${index + 1}`, ...deliverable }));
  return {
    version: 2,
    name,
    template: templateId,
    sources: [],
    items: [],
    deliverables,
    chain: [],
    programme: PLAIN_PROGRAMME,
    presets: [],
    specs: [],
    about: projectAboutSchema.parse({}),
    naming: PLAIN_NAMING,
    noiseProfiles: [],
    activeDeliverable: deliverables[0]?.id ?? null,
  };
}
