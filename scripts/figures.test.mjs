import { describe, expect, it } from "vitest";
import { kindOf, linesOf, sharesOf, shareTable } from "./figures.mjs";

describe("the share of tests", () => {
  it("counts lines that hold something", () => {
    expect(linesOf("one\n\n  \ntwo\n")).toBe(2);
    expect(linesOf("")).toBe(0);
  });
  it.each([
    ["core/dsp/stft.test.ts", "unit"],
    ["core/testing/room.ts", "unit"],
    ["server/queue/queue.integration.test.ts", "integration"],
    ["tests/integration/database.ts", "integration"],
    ["tests/shaping.spec.ts", "end to end"],
    ["scripts/figures.test.mjs", "unit"],
    ["ui/state/address.ts", "code"],
  ])("takes %s for %s", (path, kind) => {
    expect(kindOf(path)).toBe(kind);
  });
  it("is told by part, without fixtures and what is generated", () => {
    const parts = sharesOf([
      { path: "core/a.ts", text: "1\n2\n3" },
      { path: "core/a.test.ts", text: "1" },
      { path: "core/kernels/bytes.generated.ts", text: "1\n2" },
      { path: "tests/fixtures/old.ts", text: "1" },
      { path: "docs/page.md", text: "1" },
      { path: "next.config.ts", text: "1" },
    ]);
    expect([...parts.keys()]).toEqual(["core", "(root)"]);
    expect(parts.get("core")).toMatchObject({ code: 3, unit: 1 });
    const lines = shareTable(parts).split("\n");
    expect(lines[1]).toMatch(/^core .* 25\.0 %$/);
    expect(lines.at(-1)).toMatch(/^all .* 20\.0 %$/);
  });
});
