/** Tables as CSV (RFC 4180) that a spreadsheet shows as they are: no cell is taken for a formula. */
import Papa from "papaparse";

/** What spreadsheets take for the beginning of a formula, also behind apostrophes; a number may begin with a sign. */
const FORMULA = /^'*[=+\-@\t\r]/;
const NUMBER = /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i;

/** A cell that means what it says; text that would be a formula gets an apostrophe, as spreadsheets mark text. */
export const escapeFormula = (cell: string | number): string | number =>
  typeof cell === "string" && FORMULA.test(cell) && !NUMBER.test(cell) ? `'${cell}` : cell;

/** The text of a cell that {@link escapeFormula} has marked. */
export const unescapeFormula = (cell: string): string =>
  cell[0] === "'" && FORMULA.test(cell.slice(1)) ? cell.slice(1) : cell;

/** @param rows the head first */
export const csvText = (rows: readonly (readonly (string | number)[])[]): string =>
  `${Papa.unparse(
    rows.map((row) => row.map(escapeFormula)),
    { newline: "\n" },
  )}\n`;
