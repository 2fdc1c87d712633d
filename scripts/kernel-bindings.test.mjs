import { readFileSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { describe, expect, it } from "vitest";
import { formatted } from "./format.mjs";
import { bindingsOf } from "./kernel-bindings.mjs";

const folder = fileURLToPath(new URL("../core/kernels/", import.meta.url));

describe("the kernels' bindings", () => {
  it("are those of the AssemblyScript as it is", async () => {
    const path = `${folder}bindings.generated.ts`;
    expect(readFileSync(path, "utf8")).toBe(await formatted(path, bindingsOf(folder, "assembly.ts")));
  });
});
