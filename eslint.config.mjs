import tseslint from "typescript-eslint";
import { createTypeScriptImportResolver } from "eslint-import-resolver-typescript";
import importX from "eslint-plugin-import-x";
import hooks from "eslint-plugin-react-hooks";

/** What each part may import: arrows point one way, and core imports nothing of ours. */
const MAY_IMPORT = {
  core: [],
  audio: ["core"],
  server: ["core"],
  ui: ["audio", "core"],
  app: ["ui", "server", "core"],
  cli: ["server", "core"],
  demo: ["server", "core"],
  receivers: [],
  bench: ["server", "core"],
};
const PARTS = Object.keys(MAY_IMPORT);

/** The rooms of the core: each imports only from those before it. */
const CORE = [
  ...["math", "audio", "kernels", "dsp", "files", "measure", "spectrogram", "compare", "conformance", "parameters"],
  ...["processors", "repair", "events", "edit-list", "monitoring", "convert", "render", "delivery", "findings"],
  ...["project", "report", "testing"],
];

export default tseslint.config(
  { ignores: ["**/node_modules", ".next", ".build", "dist", "data", "public", "next-env.d.ts"] },
  ...tseslint.configs.recommended,
  {
    files: ["**/*.{ts,tsx}"],
    plugins: { "react-hooks": hooks },
    rules: {
      "react-hooks/rules-of-hooks": "error",
      "react-hooks/exhaustive-deps": "error",
      "@typescript-eslint/no-explicit-any": "error",
      "@typescript-eslint/no-non-null-assertion": "off",
      "@typescript-eslint/no-unused-vars": ["error", { argsIgnorePattern: "^_", varsIgnorePattern: "^_" }],
      "no-console": ["error", { allow: ["warn", "error"] }],
    },
  },
  ...PARTS.map((part) => ({
    files: [`${part}/**/*.{ts,tsx}`],
    // A test may hold a part against what is simulated for it.
    ignores: ["**/*.test.ts"],
    rules: {
      "no-restricted-imports": [
        "error",
        {
          patterns: PARTS.filter((other) => other !== part && !MAY_IMPORT[part].includes(other)).flatMap((other) => [
            { group: [`@${other}/*`, `**/../${other}/**`], message: `${part} may not import ${other}` },
          ]),
        },
      ],
    },
  })),
  ...CORE.map((room, index) => ({
    files: [`core/${room}/**/*.ts`],
    ignores: ["**/*.test.ts"],
    rules: {
      "no-restricted-imports": [
        "error",
        {
          patterns: [
            ...PARTS.slice(1).map((part) => ({ group: [`@${part}/*`], message: `core may not import ${part}` })),
            ...CORE.slice(index + 1).map((later) => ({
              group: [`../${later}`, `../${later}/**`, `../../${later}/**`],
              message: `core/${room} stands below core/${later} and may not import it`,
            })),
          ],
        },
      ],
    },
  })),
  {
    files: ["**/*.{ts,tsx}"],
    plugins: { "import-x": importX },
    settings: {
      "import-x/resolver-next": [createTypeScriptImportResolver({ project: "tsconfig.json" })],
      "import-x/parsers": { "@typescript-eslint/parser": [".ts", ".tsx"] },
    },
    rules: { "import-x/no-cycle": "error" },
  },
  { files: ["scripts/**", "cli/**", "demo/**", "tests/**", "bench/**"], rules: { "no-console": "off" } },
);
