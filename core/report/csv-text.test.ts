import Papa from "papaparse";
import { describe, expect, it } from "vitest";
import { csvText, escapeFormula, unescapeFormula } from "./csv-text";

describe("cells of a table", () => {
  it.each(["=1+1", "+cmd", "-2+3", "@SUM(A1)", "\t=1", "-", '=HYPERLINK("x")'])("are no formula: %j", (cell) => {
    expect(escapeFormula(cell)).toBe(`'${cell}`);
    expect(unescapeFormula(`'${cell}`)).toBe(cell);
  });
  it.each(["-23.1", "+4", "-1e-5", "Low Door", "", "a=b", "−3 dB"])("are as they are: %j", (cell) => {
    expect(escapeFormula(cell)).toBe(cell);
    expect(unescapeFormula(cell)).toBe(cell);
  });
  it.each(["'@", "''=1", "'-", "'tis", "'", "'-3"])("come back with their apostrophes: %j", (cell) => {
    expect(unescapeFormula(String(escapeFormula(cell)))).toBe(cell);
  });
  it("are read again as they were written", () => {
    const rows = [
      ["name", "note"],
      ["Low, Door", 'he said "hush"'],
      ["two\nlines", "=1"],
    ];
    expect(Papa.parse(csvText(rows).trimEnd()).data).toEqual([...rows.slice(0, 2), ["two\nlines", "'=1"]]);
  });
});
