import type { DeliverySpec } from "../spec";
import { aes77MusicAlbum } from "./aes77-music-album";
import { aes77MusicTrack } from "./aes77-music-track";
import { aes77Speech } from "./aes77-speech";
import { aribTrB32 } from "./arib-tr-b32";
import { atscA85 } from "./atsc-a85";
import { audiobookRetail } from "./audiobook-retail";
import { cd4416 } from "./cd-44-16";
import { dialogue27 } from "./dialogue-27";
import { ebuR128 } from "./ebu-r128";
import { ebuR128S1 } from "./ebu-r128-s1";
import { ebuR128S2 } from "./ebu-r128-s2";
import { immersive18 } from "./immersive-18";
import { monoSpeech19 } from "./mono-speech-19";
import { op59 } from "./op-59";
import { peak1 } from "./peak-1";
import { premaster9624 } from "./premaster-96-24";
import { streaming14 } from "./streaming-14";
import { streaming16 } from "./streaming-16";

/** Every delivery spec that ships. A new one: its file, and a line here. */
export const SPECS: readonly DeliverySpec[] = [
  ebuR128,
  ebuR128S1,
  ebuR128S2,
  atscA85,
  aribTrB32,
  op59,
  aes77MusicTrack,
  aes77MusicAlbum,
  aes77Speech,
  streaming14,
  streaming16,
  monoSpeech19,
  dialogue27,
  immersive18,
  audiobookRetail,
  cd4416,
  premaster9624,
  peak1,
];

/** The spec of that id. @throws with the ids that there are */
export function specNamed(id: string): DeliverySpec {
  const found = SPECS.find((spec) => spec.id === id);
  if (!found) throw new Error(`There is no delivery spec "${id}"; there are: ${SPECS.map((s) => s.id).join(", ")}.`);
  return found;
}
