import { describe, expect, it } from "vitest";
import { LIMITED_FIGURES } from "../delivery/spec";
import { conditionWords, isAnything, parseMediaQuery, SEARCHED_FIGURES } from "./media-query";

describe("what is looked for in the library", () => {
  it.each([
    ["weir night", { words: ["weir", "night"], conditions: [], verdict: null }],
    [
      "true peak over −1",
      { words: [], conditions: [{ figure: "truePeakDbtp", comparison: "over", value: -1 }], verdict: null },
    ],
    [
      "Loudness Range under 5.5, weir",
      { words: ["weir"], conditions: [{ figure: "loudnessRangeLu", comparison: "under", value: 5.5 }], verdict: null },
    ],
    [
      "loudness<-20 true peak >-3",
      {
        words: [],
        conditions: [
          { figure: "truePeakDbtp", comparison: "over", value: -3 },
          { figure: "integratedLufs", comparison: "under", value: -20 },
        ],
        verdict: null,
      },
    ],
    ["no verdict", { words: [], conditions: [], verdict: "none" }],
    ["weir outside", { words: ["weir"], conditions: [], verdict: "fail" }],
    ["passes", { words: [], conditions: [], verdict: "pass" }],
    // A name alone is a word like any other, and so is a number.
    ["range 12", { words: ["range", "12"], conditions: [], verdict: null }],
    ["true peak over", { words: ["true", "peak", "over"], conditions: [], verdict: null }],
    ["Passenger", { words: ["passenger"], conditions: [], verdict: null }],
    ["  ", { words: [], conditions: [], verdict: null }],
  ])("is read of “%s”", (typed, query) => {
    expect(parseMediaQuery(typed)).toEqual(query);
  });

  it("is anything where nothing was typed", () => {
    expect(isAnything(parseMediaQuery(" , "))).toBe(true);
    expect(isAnything(parseMediaQuery("no verdict"))).toBe(false);
  });

  it("is told in the trade's words, with its unit, and every figure can be asked for by its label", () => {
    expect(conditionWords({ figure: "truePeakDbtp", comparison: "over", value: -1 })).toBe("true peak over −1 dBTP");
    for (const figure of SEARCHED_FIGURES) {
      const { conditions } = parseMediaQuery(`${LIMITED_FIGURES[figure].label} under -3`);
      expect(conditions.map((one) => one.figure)).toContain(figure);
    }
  });
});
