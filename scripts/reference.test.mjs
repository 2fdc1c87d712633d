import { readFileSync } from "node:fs";
import { format, resolveConfig } from "prettier";
import { describe, expect, it } from "vitest";
import { inRoot } from "./paths.mjs";
import { apiPage } from "../core/api/reference";

describe("the page of the API", () => {
  it("is as the endpoints are: npm run reference", async () => {
    const path = inRoot("docs", "reference", "api.md");
    const made = await format(apiPage(), { ...(await resolveConfig(path)), filepath: path });
    expect(readFileSync(path, "utf8")).toBe(made);
  });
});
