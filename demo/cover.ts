/** Pictures of the demo as PNG: the cover of “Saltmarsh Hours”, a low sun over water in bands, and the studio’s logo. */
import { makePng } from "@server/reports/png";

const SIZE = 600;
const SKY = [232, 214, 182] as const;
const WATER = [42, 68, 92] as const;
const SUN = [196, 92, 44] as const;

type Ink = readonly [number, number, number];
const mixed = (a: Ink, b: Ink, share: number): number[] => a.map((v, i) => Math.round(v + (b[i]! - v) * share));

function inkAt(x: number, y: number): number[] {
  const horizon = 0.58;
  const fromSun = Math.hypot(x - 0.62, y - horizon + 0.1);
  if (y < horizon) return fromSun < 0.13 ? [...SUN] : mixed(SKY, SUN, Math.max(0, 0.5 - fromSun));
  const depth = (y - horizon) / (1 - horizon);
  const band = Math.sin(60 * Math.sqrt(depth)) > 0.4 && Math.abs(x - 0.62) < 0.08 + depth * 0.3;
  return mixed(WATER, band ? SUN : SKY, band ? 0.55 : 0.25 * (1 - depth));
}

export const makeCover = (): Buffer => makePng(SIZE, inkAt);

/** Three reeds over a line of water. */
export const makeLogo = (): Buffer =>
  makePng(240, (x, y) => {
    const isReed = [0.3, 0.5, 0.7].some((reed, i) => Math.abs(x - reed) < 0.035 && y > 0.15 + i * 0.1 && y < 0.72);
    const isWater = Math.abs(y - 0.82 - 0.02 * Math.sin(x * 25)) < 0.025 && x > 0.12 && x < 0.88;
    return isReed || isWater ? [...WATER] : [255, 255, 255];
  });
