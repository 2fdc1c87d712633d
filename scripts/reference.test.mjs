import { readFileSync } from "node:fs";
import { describe, expect, it } from "vitest";
import { formatted } from "./format.mjs";
import { inRoot } from "./paths.mjs";
import { apiPage } from "../core/api/reference";
import { referencePages } from "../core/report/reference";

const PAGES = [...referencePages(), { file: "api.md", text: apiPage() }];

describe("the reference", () => {
  it.each(PAGES)("has $file as the definitions are: npm run reference", async ({ file, text }) => {
    const path = inRoot("docs", "reference", file);
    expect(readFileSync(path, "utf8")).toBe(await formatted(path, text));
  });
});
