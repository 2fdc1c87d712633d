// Compiles the kernels to WebAssembly and inlines the bytes in a module that every place can load.
import { execFileSync } from "node:child_process";
import { mkdtempSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { fileURLToPath } from "node:url";

const kernels = fileURLToPath(new URL("../core/kernels/", import.meta.url));
const output = join(mkdtempSync(join(tmpdir(), "resonum-kernels-")), "kernels.wasm");
const asc = fileURLToPath(new URL("../node_modules/assemblyscript/bin/asc.js", import.meta.url));
const flags = ["--runtime", "stub", "-O3", "--enable", "simd", "--importMemory", "--noAssert"];
execFileSync(process.execPath, [asc, join(kernels, "assembly/kernels.ts"), "-o", output, ...flags], {
  stdio: "inherit",
});
const base64 = readFileSync(output).toString("base64");
writeFileSync(
  join(kernels, "wasm-bytes.generated.ts"),
  `// Made by "npm run kernels" from assembly/kernels.ts.\nexport const WASM_BASE64 =\n  "${base64}";\n`,
);
console.log(`kernels: ${readFileSync(output).length} bytes`);
