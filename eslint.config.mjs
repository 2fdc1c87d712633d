import tseslint from "typescript-eslint";
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
  { files: ["scripts/**", "cli/**", "demo/**", "tests/**", "bench/**"], rules: { "no-console": "off" } },
);
