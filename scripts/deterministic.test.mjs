import { readdirSync, readFileSync } from "node:fs";
import ts from "typescript";
import { describe, expect, it } from "vitest";
import { DETERMINISTIC } from "../oxlint.config.mjs";
import { inRoot } from "./paths.mjs";

const EXEMPT = /\.test\.ts$|core\/math\/(deterministic|fast)-math\.ts$/;

/** Lines on which a number is raised to a power by `**`, whose last bits engines may choose. */
function powersIn(path, text) {
  const source = ts.createSourceFile(path, text, ts.ScriptTarget.Latest);
  const lines = [];
  const visit = (node) => {
    if (node.kind === ts.SyntaxKind.AsteriskAsteriskToken || node.kind === ts.SyntaxKind.AsteriskAsteriskEqualsToken)
      lines.push(`${path}:${source.getLineAndCharacterOfPosition(node.pos).line + 1}`);
    ts.forEachChild(node, visit);
  };
  visit(source);
  return lines;
}

describe("what is heard and measured", () => {
  it("raises to a power by deterministic mathematics alone (square, exp2, exp10, power)", () => {
    const files = DETERMINISTIC.flatMap((room) =>
      readdirSync(inRoot("core", room), { recursive: true, encoding: "utf8" }).map((file) => `core/${room}/${file}`),
    ).filter((file) => file.endsWith(".ts") && !EXEMPT.test(file));
    expect(files.length).toBeGreaterThan(200);
    const found = files.flatMap((file) => powersIn(file, readFileSync(inRoot(file), "utf8")));
    expect(found).toEqual([]);
  });

  it("would be told apart", () => {
    expect(powersIn("a.ts", "/** a ** b */\nconst x = 2 ** 3;\nlet y = x;\ny **= 2;")).toEqual(["a.ts:2", "a.ts:4"]);
  });
});
