// Compiles the kernels to WebAssembly and inlines the bytes in a module that every place can load; the network's as well.
import { execFileSync } from "node:child_process";
import { mkdtempSync, readFileSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import { formatted } from "./format.mjs";
import { bindingsOf } from "./kernel-bindings.mjs";

const kernels = fileURLToPath(new URL("../core/kernels/", import.meta.url));
const output = join(mkdtempSync(join(tmpdir(), "resonum-kernels-")), "kernels.wasm");
const asc = fileURLToPath(new URL("../node_modules/assemblyscript/bin/asc.js", import.meta.url));
const flags = ["--runtime", "stub", "-O3", "--enable", "simd", "--importMemory", "--noAssert"];
execFileSync(process.execPath, [asc, join(kernels, "assembly.ts"), "-o", output, ...flags], {
  stdio: "inherit",
});
const base64 = readFileSync(output).toString("base64");
writeFileSync(
  join(kernels, "wasm-bytes.generated.ts"),
  `// Made by "npm run kernels" from assembly.ts.\nexport const WASM_BASE64 =\n  "${base64}";\n`,
);
const bindings = join(kernels, "bindings.generated.ts");
writeFileSync(bindings, await formatted(bindings, bindingsOf(kernels, "assembly.ts")));
console.log(`kernels: ${readFileSync(output).length} bytes`);

const network = readFileSync(
  fileURLToPath(new URL("../node_modules/@jitsi/rnnoise-wasm/dist/rnnoise.wasm", import.meta.url)),
);
writeFileSync(
  fileURLToPath(new URL("../core/repair/network/network-bytes.generated.ts", import.meta.url)),
  `// Put here by "npm run kernels": RNNoise (BSD licence), compiled in the npm package @jitsi/rnnoise-wasm (Apache-2.0).\nexport const NETWORK_BASE64 =\n  "${network.toString("base64")}";\n`,
);
console.log(`network: ${network.length} bytes`);
