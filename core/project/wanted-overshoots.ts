/** What is encoded with loss on trial, so that the true peaks of masters are predicted as they will be decoded. */
import type { EncodingOvershoot } from "../delivery/encoding-overshoot";
import type { MasterFormat } from "../delivery/recipe";
import { isLossy } from "../files/containers";
import { canonicalJson } from "../math/canonical-json";
import type { Item, ProjectDocument } from "./document";
import { itemSound, type ItemRenderInputs } from "./item-render-inputs";
import type { KnownRecordings } from "./known-recordings";
import { itemInMix, sourceInMix } from "./mixes";

/** How a sound is encoded, as far as it moves peaks: the text that it is kept under. */
export const encodingKey = ({
  container,
  bitrateKbps,
  variableBitrate,
  sampleRate,
  phase,
  channels,
}: MasterFormat): string =>
  canonicalJson({ container, bitrateKbps, variableBitrate, sampleRate: sampleRate ?? null, phase, channels });

/** Whether it can be tried: what lies under a picture is encoded as the picture's file wants it. */
export const hasOvershoot = ({ container }: MasterFormat): boolean => isLossy(container) && container !== "video";

export interface WantedOvershoot {
  /** An item's id. */
  subject: string;
  /** Of the item's sound. */
  hash: string;
  encoding: string;
  format: MasterFormat;
  inputs: ItemRenderInputs;
}

/** What was measured: of a sound, by its hash, and an encoding. */
export interface MeasuredOvershoot extends EncodingOvershoot {
  hash: string;
  encoding: string;
  /** Whether it is that of this very sound; else of the same recording, processed otherwise. */
  isExact: boolean;
}

/** Of one item, for the deliverables of items that encode with loss. */
export function overshootsOfItem(document: ProjectDocument, item: Item, known: KnownRecordings): WantedOvershoot[] {
  const wanted = new Map<string, WantedOvershoot>();
  for (const { format, mix, programme } of document.deliverables) {
    if (programme || !hasOvershoot(format) || sourceInMix(item, mix) === null) continue;
    const sound = itemSound(document, itemInMix(item, mix, known), known);
    if (!sound) continue;
    const encoding = encodingKey(format);
    wanted.set(`${sound.hash} ${encoding}`, { ...sound, subject: item.id, encoding, format });
  }
  return [...wanted.values()];
}

/** All that a project wants. */
export const wantedOvershoots = (document: ProjectDocument, known: KnownRecordings): WantedOvershoot[] =>
  document.items.flatMap((item) => overshootsOfItem(document, item, known));
