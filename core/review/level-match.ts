/** Files that are compared are heard at the same loudness: the louder ones are turned down, none is turned up. */

/**
 * Gains for files of such integrated loudness.
 * @param lufs `null` where it was not measured: such a file stays as it is
 * @returns dB, none above 0
 */
export function matchedGainsDb(lufs: readonly (number | null)[]): number[] {
  const known = lufs.filter((level): level is number => level !== null && Number.isFinite(level));
  const quietest = Math.min(...known);
  return lufs.map((level) => (level === null || !Number.isFinite(level) ? 0 : quietest - level));
}
