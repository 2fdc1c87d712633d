import { createHash } from "node:crypto";
import { readFileSync } from "node:fs";
import { describe, expect, it } from "vitest";
import { clipsSchema } from "../edit-list/clip";
import { MemorySink, memorySource } from "../files/bytes";
import { newTags } from "../files/tags";
import { goldenSource } from "../testing/golden-sources";
import { renderMaster } from "./render-master";
import { recipeSchema } from "./recipe";

/** Recipes as version 1 wrote them, and the SHA-256 of the masters that it made of them. */
interface Golden {
  name: string;
  source: string;
  recipe: unknown;
  pieces?: unknown;
  sha256: string;
}
const golden = JSON.parse(readFileSync("tests/fixtures/golden/version-1.json", "utf8")) as Golden[];

async function hashOfMaster({ source: name, recipe, pieces }: Golden): Promise<string> {
  const { source, layout } = goldenSource(name);
  let sink = new MemorySink();
  await renderMaster(
    {
      ...{ source, layout, sourceBits: 24, tags: newTags({ title: "Low Door" }) },
      recipe: recipeSchema.parse(recipe),
      clips: pieces ? clipsSchema.parse(pieces) : null,
    },
    { open: async () => (sink = new MemorySink()), readBack: async () => memorySource(sink.bytes()) },
  );
  return createHash("sha256").update(sink.bytes()).digest("hex");
}

describe("recipes of version 1", () => {
  it.each(golden.map((one) => [one.name, one] as const))("%s: the same bytes for good", async (_, one) => {
    expect(await hashOfMaster(one)).toBe(one.sha256);
  });
});
