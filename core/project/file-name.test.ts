import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { distinctNames, fileName, MAX_NAME_BYTES, nameKey, displayName } from "./file-name";

const bytesOf = (name: string): number => Buffer.byteLength(name, "utf8");

describe("a file name", () => {
  it.each([
    ["Low Door", "Low Door"],
    ['a/b\\c:d*e?f"g<h>i|j', "a-b-c-d-e-f-g-h-i-j"],
    ["  ..hidden.. ", "hidden"],
    ["Side — one", "Side - one"],
    ["tab\tand\nline", "tab and line"],
    ["nul\u0000byte", "nul-byte"],
    ["CON", "_CON"],
    ["aux.wav", "_aux.wav"],
    ["console", "console"],
    ["invoice\u202egnp.exe", "invoicegnp.exe"],
    ["half \ud83c of a pair", "half - of a pair"],
    ["e\u0301", "\u00e9"],
    ["...", "master"],
    ["", "master"],
  ])("of %j is %j", (title, name) => {
    expect(fileName(title)).toBe(name);
  });
  it("is cut between characters as a person sees them, by bytes", () => {
    const chinese = fileName("声".repeat(200));
    expect(bytesOf(chinese)).toBeLessThanOrEqual(MAX_NAME_BYTES);
    expect(chinese).toBe("声".repeat(66));
    const family = "\u{1f469}\u200d\u{1f469}\u200d\u{1f467}";
    expect(fileName(`${"x".repeat(MAX_NAME_BYTES - 3)}${family}`)).toBe("x".repeat(MAX_NAME_BYTES - 3));
    expect(fileName(`x${family}`)).toBe(`x${family}`);
  });
  it("is one that every file system takes, whatever the title", () => {
    fc.assert(
      fc.property(fc.string({ unit: "binary", maxLength: 400 }), (title) => {
        const name = fileName(title);
        expect(bytesOf(name)).toBeLessThanOrEqual(MAX_NAME_BYTES + 1);
        expect(name).not.toMatch(/[\p{Cc}\p{Cs}/\\:*?"<>|\u202e]|^[. ]|[. ]$/u);
        expect(name).not.toBe("");
        expect(encodeURIComponent(name)).toBeTypeOf("string"); // no half of a pair
        expect(fileName(name)).toBe(name);
      }),
      { numRuns: 500 },
    );
  });
});

describe("names in one folder", () => {
  it("get a number where capitals are all that tells them apart", () => {
    expect(distinctNames(["Tide.wav", "tide.wav", "TIDE.wav", "Tide (2).wav"])).toEqual([
      "Tide.wav",
      "tide (2).wav",
      "TIDE (3).wav",
      "Tide (2) (2).wav",
    ]);
  });
  it("are as many as there were, each once", () => {
    const title = fc.constantFrom("a", "A", "a (2)", "b:", "b?", "b-", "e\u0301", "\u00e9", "");
    fc.assert(
      fc.property(fc.array(title, { maxLength: 40 }), (titles) => {
        const names = distinctNames(titles.map((one) => `${fileName(one)}.wav`));
        expect(names).toHaveLength(titles.length);
        expect(new Set(names.map(nameKey)).size).toBe(titles.length);
      }),
    );
  });
});

describe("a file's name as it is shown", () => {
  it.each([
    ["Low Door.wav", "Low Door.wav"],
    [`${"声".repeat(300)}.flac`, `${"声".repeat(195)}.flac`],
    ["\u202ecod.wav", "cod.wav"],
    ["a\u0000b.wav", "a b.wav"],
    [".wav", "recording.wav"],
    ["   ", "recording"],
  ])("of %j is %j", (name, shown) => {
    expect(displayName(name)).toBe(shown);
  });
});
