import type { DeliverySpec } from "./spec";
import { aes77MusicTrack } from "./specs/aes77-music-track";
import { aes77Speech } from "./specs/aes77-speech";
import { aribTrB32 } from "./specs/arib-tr-b32";
import { atscA85 } from "./specs/atsc-a85";
import { audiobookRetail } from "./specs/audiobook-retail";
import { ebuR128 } from "./specs/ebu-r128";
import { ebuR128S1 } from "./specs/ebu-r128-s1";
import { ebuR128S2 } from "./specs/ebu-r128-s2";
import { monoSpeech19 } from "./specs/mono-speech-19";
import { op59 } from "./specs/op-59";
import { streaming14 } from "./specs/streaming-14";
import { streaming16 } from "./specs/streaming-16";

/** Every delivery spec that ships. A new one: its file, and a line here. */
export const SPECS: readonly DeliverySpec[] = [
  ebuR128,
  ebuR128S1,
  ebuR128S2,
  atscA85,
  aribTrB32,
  op59,
  aes77MusicTrack,
  aes77Speech,
  streaming14,
  streaming16,
  monoSpeech19,
  audiobookRetail,
];

/** The spec of that id. @throws with the ids that there are */
export function specNamed(id: string): DeliverySpec {
  const found = SPECS.find((spec) => spec.id === id);
  if (!found) throw new Error(`There is no delivery spec "${id}"; there are: ${SPECS.map((s) => s.id).join(", ")}.`);
  return found;
}
