import { exp10, log10 } from "../math/deterministic-math";
import type { Decibels } from "./units";

/** Amplitude ratio of `db`; exactly 1 at 0 dB and 0 at −∞. */
export const dbToGain = (db: Decibels): number => (db === -Infinity ? 0 : exp10(db / 20));

/** Decibels of an amplitude ratio, −Infinity at 0. */
export const gainToDb = (gain: number): Decibels => 20 * log10(gain);

/** Power ratio of `db`, 0 at −∞. */
export const dbToPower = (db: Decibels): number => (db === -Infinity ? 0 : exp10(db / 10));

/** Decibels of a power ratio, −Infinity at 0. */
export const powerToDb = (power: number): Decibels => 10 * log10(power);

/** `null` for what is not a finite number: silence has no level. */
export const finiteOrNull = (level: number): number | null => (Number.isFinite(level) ? level : null);
