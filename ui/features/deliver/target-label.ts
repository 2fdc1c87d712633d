import { formatDb } from "@core/audio/format";
import { ANCHORS, type DeliverySpec } from "@core/delivery/spec";

/** What a spec aims at, in words. */
export function targetLabel({ target, anchor, normalise, gainScope, ceilingDbtp }: DeliverySpec): string {
  const { unit } = ANCHORS[anchor];
  const aim = target === null || normalise === "none" ? "level kept" : `${formatDb(target)} ${unit}`;
  const whose = anchor === "dialogue" ? ", dialogue" : anchor === "rms" ? " RMS" : "";
  return `${aim}${target === null ? "" : whose}${gainScope === "album" ? ", one gain" : ""} · ≤ ${formatDb(ceilingDbtp)} dBTP`;
}
