/** Listening without knowing which is which: the two slots are heard as "first" and "second" in an order kept secret. */
export interface BlindTest {
  /** Whether slot 2 is the one called "first". */
  swapped: boolean;
  asked: number;
  right: number;
  /** Whether the last answer was right; `null` before the first. */
  last: boolean | null;
}

export const newBlindTest = (swapped: boolean): BlindTest => ({ swapped, asked: 0, right: 0, last: null });

/** The answer that what is called "first" is slot `slot`; the order is drawn anew. */
export function answered(test: BlindTest, slot: 1 | 2, swappedNext: boolean): BlindTest {
  const right = slot === (test.swapped ? 2 : 1);
  return { swapped: swappedNext, asked: test.asked + 1, right: test.right + (right ? 1 : 0), last: right };
}

/** How likely so many right answers, or more, are by guessing alone (binomial). */
export function chanceOf({ asked, right }: BlindTest): number {
  let sum = 0;
  let ways = 1; // asked over k, from k = 0
  for (let k = 0; k <= asked; k++) {
    if (k >= right) sum += ways;
    ways = (ways * (asked - k)) / (k + 1);
  }
  return sum / 2 ** asked;
}
