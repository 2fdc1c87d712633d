/** Folding a layout to one with fewer channels: matrices of gains, after ITU-R BS.775, with coefficients to choose. */
import { dbToGain } from "./decibel";
import { layoutNamed, type Layout, type Speaker } from "./layout";
import { emptyPlanar, type Decibels, type Frames, type Planar } from "./units";

export const DOWNMIX_TARGETS = ["mono", "stereo", "5.1"] as const;
export type DownmixTarget = (typeof DOWNMIX_TARGETS)[number];

export interface DownmixCoefficients {
  /** Of the centre in both sides. */
  centreDb: Decibels;
  surroundDb: Decibels;
  heightDb: Decibels;
}

/** ITU-R BS.775-3, annex 4, table 2: centre and surrounds at −3 dB; heights as surrounds. */
const HALF_POWER_DB: Decibels = -3.010299956639812;
export const STANDARD_DOWNMIX: DownmixCoefficients = {
  centreDb: HALF_POWER_DB,
  surroundDb: HALF_POWER_DB,
  heightDb: HALF_POWER_DB,
};

/** Gain of each channel of the source in each of the target: [target][source]. */
export type DownmixMatrix = readonly (readonly number[])[];

const HEIGHT_DEGREES = 30;
const SIDE_DEGREES = 60;
const BOTH = Math.SQRT1_2;

const isCentre = ({ azimuth }: Speaker) => azimuth === 0;
const isBehind = ({ azimuth }: Speaker) => Math.abs(azimuth) === 180;
const isHeight = ({ elevation }: Speaker) => Math.abs(elevation) >= HEIGHT_DEGREES;
const isSide = ({ azimuth }: Speaker) => Math.abs(azimuth) > SIDE_DEGREES;

/** Gains of a speaker in left, right, centre, left and right surround, before the channels of the target are chosen. */
function shares(speaker: Speaker, coefficients: DownmixCoefficients) {
  const none = { left: 0, right: 0, centre: 0, leftSurround: 0, rightSurround: 0 };
  if (speaker.lfe) return none;
  const height = isHeight(speaker) ? dbToGain(coefficients.heightDb) : 1;
  if (isBehind(speaker)) return { ...none, leftSurround: height * BOTH, rightSurround: height * BOTH };
  if (isCentre(speaker)) return { ...none, centre: height };
  const left = speaker.azimuth > 0;
  if (isSide(speaker)) return { ...none, [left ? "leftSurround" : "rightSurround"]: height };
  return { ...none, [left ? "left" : "right"]: height };
}

/**
 * The matrix from `layout` to `target`; `null` where there is nothing to fold. LFE is left out of stereo and mono, and
 * kept in 5.1.
 */
export function downmixMatrix(
  layout: Layout,
  target: DownmixTarget,
  coefficients: DownmixCoefficients = STANDARD_DOWNMIX,
): DownmixMatrix | null {
  const { speakers } = layout;
  const count = layoutNamed(target)!.speakers.length;
  if (speakers.length <= count) return null;
  // Two channels have nothing but sides, wherever they stand.
  const parts =
    speakers.length === 2
      ? [
          { left: 1, right: 0, centre: 0, leftSurround: 0, rightSurround: 0 },
          { left: 0, right: 1, centre: 0, leftSurround: 0, rightSurround: 0 },
        ]
      : speakers.map((speaker) => shares(speaker, coefficients));
  if (target === "5.1") {
    const lfe = speakers.findIndex((speaker) => speaker.lfe);
    return [
      parts.map(({ left }) => left),
      parts.map(({ right }) => right),
      parts.map(({ centre }) => centre),
      speakers.map((_, channel) => (channel === lfe ? 1 : 0)),
      parts.map(({ leftSurround }) => leftSurround),
      parts.map(({ rightSurround }) => rightSurround),
    ];
  }
  const centre = dbToGain(coefficients.centreDb);
  const surround = dbToGain(coefficients.surroundDb);
  const left = parts.map((part) => part.left + centre * part.centre + surround * part.leftSurround);
  const right = parts.map((part) => part.right + centre * part.centre + surround * part.rightSurround);
  return target === "stereo" ? [left, right] : [left.map((gain, channel) => (gain + right[channel]!) / 2)];
}

/** Gains of each channel in the two sides of what is heard on two speakers; mono goes to both as it is. */
export function stereoDownmix(layout: Layout): readonly (readonly [left: number, right: number])[] {
  if (layout.speakers.length === 1) return [[1, 1]];
  const matrix = downmixMatrix(layout, "stereo");
  return layout.speakers.map((_, channel) =>
    matrix ? [matrix[0]![channel]!, matrix[1]![channel]!] : channel === 0 ? [1, 0] : [0, 1],
  );
}

/** `frames` frames of a block, folded. */
export function downmixed(block: Planar, matrix: DownmixMatrix, frames: Frames): Planar {
  const out = emptyPlanar(matrix.length, frames);
  matrix.forEach((gains, target) => {
    const y = out[target]!;
    gains.forEach((gain, channel) => {
      if (gain === 0) return;
      const x = block[channel]!;
      for (let i = 0; i < frames; i++) y[i]! += gain * x[i]!;
    });
  });
  return out;
}
