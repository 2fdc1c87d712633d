import { readFileSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { format, resolveConfig } from "prettier";
import { describe, expect, it } from "vitest";
import { bindingsOf } from "./kernel-bindings.mjs";

const folder = fileURLToPath(new URL("../core/kernels/", import.meta.url));

describe("the kernels' bindings", () => {
  it("are those of the AssemblyScript as it is", async () => {
    const path = `${folder}bindings.generated.ts`;
    const made = await format(bindingsOf(folder, "assembly.ts"), { ...(await resolveConfig(path)), filepath: path });
    expect(readFileSync(path, "utf8")).toBe(made);
  });
});
