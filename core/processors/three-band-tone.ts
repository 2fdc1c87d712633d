import { bell, type AnalogueBiquad } from "../dsp/analogue-filter";
import type { SettingsOf } from "../parameters/parameter";
import { bass, gainWords, shelvesOf, toneGainDb, toneHertz, treble } from "./bass-treble";
import { toneProcessor } from "./tone-processor";
import type { ProcessorDefinition } from "./processor";

/** About two octaves between the points of half gain. */
const MID_Q = 0.7;

const parameters = {
  ...bass,
  midDb: toneGainDb("Middle", "Lifts or lowers what lies around its frequency"),
  midHz: toneHertz("Middle frequency", "Centre of a broad bell", [200, 1000, 6000]),
  ...treble,
};

const sectionsOf = (settings: SettingsOf<typeof parameters>): AnalogueBiquad[] => [
  ...shelvesOf(settings),
  ...(settings.midDb === 0 ? [] : [bell(settings.midHz, settings.midDb, MID_Q)]),
];

/** Bass, middle and treble: two shelves and a broad bell. */
export const threeBandTone: ProcessorDefinition<typeof parameters> = {
  id: "three-band-tone",
  name: "Three-band tone",
  group: "tone",
  help: "Bass, middle and treble, each more or less: two shelves and a broad bell",
  keywords: "bass middle mid treble tone control simple three band low high presence",
  parameters,
  commonControls: "all",
  memory: 1,
  ...toneProcessor(sectionsOf),
  automatable: Object.keys(parameters),
  summary: ({ bassDb, midDb, trebleDb }) => gainWords({ bass: bassDb, middle: midDb, treble: trebleDb }),
  presets: [
    {
      name: "Voice forward",
      use: "words that lie behind music or a room",
      settings: { bassDb: -2, bassHz: 180, midDb: 2, midHz: 2500, trebleDb: 1, trebleHz: 8000 },
    },
    {
      name: "Room in the middle",
      use: "a mix that is full where voices lie",
      settings: { midDb: -2, midHz: 900 },
    },
  ],
};
