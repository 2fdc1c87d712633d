import { describe, expect, it } from "vitest";
import { LONGEST_PASSWORD, passwordProblem, SHORTEST_PASSWORD } from "./password";

describe("a password", () => {
  it.each([
    "nine herons over the sluice",
    "kT7#vQ2!mZ9x",
    "ein Kahn voll nasser Wolle",
    "é".repeat(3) + " wren, otter, eel",
  ])("is taken: %s", (password) => expect(passwordProblem(password)).toBeNull());
  it.each(["short", "a".repeat(SHORTEST_PASSWORD - 1), "x".repeat(LONGEST_PASSWORD + 1)])(
    "is of a certain length: %s",
    (password) => expect(passwordProblem(password)).toMatch(/At (least|most) \d+ characters/),
  );
  it.each(["password1234", "qwertyuiop123", "1234567890", "aaaaaaaaaaaa", "iloveyou2026", "resonum resonum"])(
    "is none of the first that would be tried: %s",
    (password) => expect(passwordProblem(password)).toMatch(/among the first/),
  );
  it.each(["Tamsin.Weir", "tamsin@sluice.example", "weir-tamsin-1990"])(
    "is not made of who somebody is: %s",
    (password) =>
      expect(passwordProblem(password, ["Tamsin Weir", "tamsin@sluice.example"])).toMatch(/among the first/),
  );
});
