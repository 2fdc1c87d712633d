import { mkdirSync, mkdtempSync, rmSync, utimesSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, describe, expect, it } from "vitest";
import { areFresh, lastChangeOf } from "./freshness.mjs";

const folder = mkdtempSync(join(tmpdir(), "resonum-fresh-"));
afterAll(() => rmSync(folder, { recursive: true }));

const LONG_AGO = new Date("2020-01-01");
const LATER = new Date("2021-01-01");
const file = join(folder, "inside", "deep.ts");
mkdirSync(join(folder, "inside"));
writeFileSync(file, "");

const allFromLongAgo = () => {
  for (const path of [file, join(folder, "inside"), folder]) utimesSync(path, LONG_AGO, LONG_AGO);
};

describe("the last change of a folder", () => {
  it("is that of the file in it that changed last", () => {
    allFromLongAgo();
    expect(lastChangeOf(folder)).toBe(LONG_AGO.getTime());
    utimesSync(file, LATER, LATER);
    expect(lastChangeOf(folder)).toBe(LATER.getTime());
  });
  it("is when a file was taken away", () => {
    const other = join(folder, "inside", "other.ts");
    writeFileSync(other, "");
    allFromLongAgo();
    rmSync(other);
    expect(lastChangeOf(folder)).toBeGreaterThan(LATER.getTime());
  });
});

describe("bundles", () => {
  it("are not fresh where one is missing, or was never built", () => {
    expect(areFresh(["cli"], ["dist/there-is-no-such-bundle.mjs"])).toBe(false);
    expect(areFresh(["never-built"], [])).toBe(false);
  });
});
