import { onOff, type Parameters, type SettingsOf } from "../parameters/parameter";
import type { Decibels } from "../audio/units";
import { amountOf } from "./amount";
import { clicks, mouthNoise } from "./clicks";
import { inTurn, reachOf } from "./in-turn";
import type { RepairDefinition, RepairWork } from "./repair";
import { reverberation } from "./reverberation";
import { speechDenoise } from "./speech-denoise";

const parameters = {
  amount: {
    ...amountOf("How much is done by all of its parts: half is seldom noticed, all of it is heard"),
    default: 50,
  },
  clicks: onOff("Clicks", "Crackle and digital errors are filled from what surrounds them", true),
  mouthNoise: onOff("Mouth noise", "The clicks of lips and tongue are taken out", true),
  noise: onOff("Noise", "All that is no voice is turned down, by a network that knows speech", true),
  room: onOff("Room", "The tail that the room adds is turned down"),
  rt60Seconds: reverberation.parameters.rt60Seconds,
} satisfies Parameters;

type Settings = SettingsOf<typeof parameters>;

/** Depths of the parts at the whole amount. */
const NOISE_DB = 32;
const ROOM_DB = 14;
/** Firmness of the network at nothing and at the whole amount. */
const FIRMNESS = { least: 1, most: 2 };
/** Level of the tail against the voice: that of a microphone on a table. */
const TAIL_DB = -3;

/** One of its parts: a repair and the settings that the amount stands for. */
export interface VoicePart {
  type: string;
  settings: Record<string, number>;
}

/** To steps of 0.5 dB. */
const rounded = (db: Decibels): Decibels => Math.round(2 * db) / 2;

/** What the control does, in this order, as steps by themselves: a person may go on with these. */
export function voiceParts({ amount, room, noise, rt60Seconds, ...switched }: Settings): VoicePart[] {
  if (amount === 0) return [];
  const share = amount / 100;
  const full = Math.min(100, 2 * amount);
  return [
    ...(switched.clicks ? [{ type: clicks.id, settings: { amount: full } }] : []),
    ...(switched.mouthNoise ? [{ type: mouthNoise.id, settings: { amount: full } }] : []),
    ...(noise
      ? [
          {
            type: speechDenoise.id,
            settings: {
              maxReductionDb: rounded(NOISE_DB * share),
              firmness: Number((FIRMNESS.least + (FIRMNESS.most - FIRMNESS.least) * share).toFixed(1)),
            },
          },
        ]
      : []),
    ...(room
      ? [
          {
            type: reverberation.id,
            settings: { maxReductionDb: rounded(ROOM_DB * share), rt60Seconds, reverberantToDirectDb: TAIL_DB },
          },
        ]
      : []),
  ];
}

const PARTS = [clicks, mouthNoise, speechDenoise, reverberation] as unknown as readonly RepairDefinition[];

/** A part as a repair with all of its settings. */
function repairOf({ type, settings }: VoicePart) {
  const definition = PARTS.find(({ id }) => id === type)!;
  const defaults = Object.fromEntries(Object.entries(definition.parameters).map(([name, own]) => [name, own.default]));
  const whole = { ...defaults, ...settings };
  return { definition, settings: whole, seconds: definition.contextSeconds(whole, undefined) };
}

/** A voice without what is not wanted of it: several repairs in a row, by one control. */
export const voiceCleanUp: RepairDefinition<typeof parameters> = {
  id: "voice-clean-up",
  name: "Voice clean-up",
  help: "Clicks, mouth noise, noise and room of a voice by one control; its parts can be opened as steps of their own",
  panel: "parts",
  parameters,
  contextSeconds: (settings) => reachOf(voiceParts(settings).map(repairOf)),
  isNeutral: (settings) => voiceParts(settings).length === 0,
  prepare: () => speechDenoise.prepare!(),
  create(settings, _, format): RepairWork {
    const parts = voiceParts(settings).map(repairOf);
    return inTurn(
      parts.map(({ definition, settings: own, seconds }) => ({
        work: definition.create(own, undefined, format),
        seconds,
      })),
      format.sampleRate,
    );
  },
  summary(settings) {
    const names = voiceParts(settings).map(({ type }) => PARTS.find(({ id }) => id === type)!.name.toLowerCase());
    return names.length === 0 ? "nothing" : `${Math.round(settings.amount)}\u00a0%: ${names.join(", ")}`;
  },
};
