/** Ranges of time, from and to in seconds: what of a file was heard. */
export type Range = readonly [from: number, to: number];

/** Ranges that lie apart, the first first, that hold together what the given ones hold. @param gap closed where it is no wider */
export function mergedRanges(ranges: readonly Range[], gap = 0): Range[] {
  const merged: [number, number][] = [];
  for (const [from, to] of [...ranges].sort((a, b) => a[0] - b[0])) {
    const last = merged.at(-1);
    if (last && from <= last[1] + gap) last[1] = Math.max(last[1], to);
    else if (to > from) merged.push([from, to]);
  }
  return merged;
}

/** How much of a file of that length the ranges hold, 0…1. */
export function shareHeard(ranges: readonly Range[], seconds: number): number {
  const heard = mergedRanges(ranges).reduce(
    (sum, [from, to]) => sum + Math.min(to, seconds) - Math.min(from, seconds),
    0,
  );
  return seconds > 0 ? Math.min(1, heard / seconds) : 0;
}
