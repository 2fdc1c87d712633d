/** What makes a password good enough: long enough, and not among the first that anybody would try. */
import { ZxcvbnFactory } from "@zxcvbn-ts/core";
import * as common from "@zxcvbn-ts/language-common";

/** OWASP ASVS 5.0, 6.2.1 and 6.2.9: at least eight signs, at least 64 of them taken. */
export const SHORTEST_PASSWORD = 10;
export const LONGEST_PASSWORD = 128;
/** Of 4: safe against a hundred million guesses. */
const LEAST_SCORE = 3;

/** So many signs have to be none of what is known of the person. */
const LEAST_BESIDE = 6;

const estimator = new ZxcvbnFactory({ dictionary: common.dictionary, graphs: common.adjacencyGraphs });

/**
 * Why a password cannot be taken, in a sentence; `null` where it can.
 * @param related words that somebody who knows the person would try: name, e-mail, the studio
 */
export function passwordProblem(password: string, related: readonly string[] = []): string | null {
  if (password.length < SHORTEST_PASSWORD) return `At least ${SHORTEST_PASSWORD} characters are asked for.`;
  if (password.length > LONGEST_PASSWORD) return `At most ${LONGEST_PASSWORD} characters are taken.`;
  const words = [...related, "resonum"]
    .flatMap((word) => [word, ...word.split(/[^\p{L}\d]+/u)])
    .filter((word) => word.length > 2);
  const rest = words.reduce((left, word) => left.replaceAll(word.toLowerCase(), ""), password.toLowerCase());
  const isObvious = rest.replace(/[^\p{L}\d]/gu, "").length < LEAST_BESIDE;
  return isObvious || estimator.check(password, words).score < LEAST_SCORE
    ? "This password is among the first that would be tried. A few words that nobody would put together are better."
    : null;
}
