import type { Layout } from "./layout";

const MINUS_3_DB = 0.7071067811865476;

/**
 * Gains of each channel in the two sides of a stereo fold-down (ITU-R BS.775: centre and surrounds at −3 dB, LFE left
 * out); a channel in the middle goes to both. Mono goes to both sides as it is.
 */
export function foldDown(layout: Layout): readonly (readonly [left: number, right: number])[] {
  if (layout.speakers.length === 1) return [[1, 1]];
  if (layout.speakers.length === 2)
    return [
      [1, 0],
      [0, 1],
    ];
  return layout.speakers.map(({ label, azimuth, lfe }) => {
    if (lfe) return [0, 0];
    if (azimuth === 0 || Math.abs(azimuth) === 180) return [MINUS_3_DB, MINUS_3_DB];
    const gain = label === "L" || label === "R" ? 1 : MINUS_3_DB;
    return azimuth > 0 ? [gain, 0] : [0, gain];
  });
}
