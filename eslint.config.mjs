import tseslint from "typescript-eslint";
import hooks from "eslint-plugin-react-hooks";

/** What each part may import: arrows point one way, and core imports nothing of ours. */
const MAY_IMPORT = {
  core: [],
  playback: ["core"],
  server: ["core"],
  ui: ["playback", "core"],
  app: ["ui", "server", "core"],
  cli: ["server", "core"],
  demo: ["server", "core"],
  receivers: [],
  bench: ["server", "playback", "core", "demo"],
};
const PARTS = Object.keys(MAY_IMPORT);

/** The rooms of a part: each imports only from those before it. */
const ROOMS = {
  core: [
    ...["math", "audio", "kernels", "dsp", "files", "measure", "spectrogram", "compare", "conformance", "parameters"],
    ...[
      "processors",
      "repair",
      "events",
      "edit-list",
      "monitoring",
      "convert",
      "render",
      "programme",
      "delivery",
      "findings",
    ],
    ...["people", "review", "project", "report", "webhooks", "api", "testing"],
  ],
  server: [
    ...[
      "db",
      "storage",
      "http",
      "queue",
      "webhooks",
      "media",
      "projects",
      "people",
      "ingest",
      "rendering",
      "review",
      "reports",
      "delivery",
    ],
    ...["operations", "worker"],
  ],
  ui: ["design-system", "canvas", "workers", "api", "state", "timeline", "meters", "features", "workspace"],
};

/** Rooms of the core whose results must be the same bits in every engine … */
const DETERMINISTIC = [
  ...["math", "kernels", "dsp", "measure", "spectrogram", "compare", "processors", "repair", "events", "edit-list"],
  ...["monitoring", "convert", "render", "programme"],
];
/** … and what engines are free to round as they like (ECMA-262, "implementation-approximated"). */
const ENGINES_CHOICE = [
  ...["acos", "acosh", "asin", "asinh", "atan", "atan2", "atanh", "cbrt", "cos", "cosh", "exp", "expm1", "hypot"],
  ...["log", "log10", "log1p", "log2", "pow", "sin", "sinh", "tan", "tanh"],
];

/** @param patterns of imports that files may not have; a test may hold a part against what is simulated for it */
const forbid = (files, patterns) => ({
  files,
  ignores: ["**/*.test.ts", "**/*.test.tsx"],
  rules: { "no-restricted-imports": ["error", { patterns }] },
});
const otherParts = (part) =>
  PARTS.filter((other) => other !== part && !MAY_IMPORT[part].includes(other)).map((other) => ({
    group: [`@${other}/*`, `**/../${other}/**`],
    message: `${part} may not import ${other}`,
  }));
const laterRooms = (part, room) =>
  ROOMS[part].slice(ROOMS[part].indexOf(room) + 1).map((later) => ({
    group: [`../${later}`, `../${later}/**`, `../../${later}/**`, `../../../${later}/**`, `@${part}/${later}/**`],
    message: `${part}/${room} stands below ${part}/${later} and may not import it`,
  }));

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
  ...PARTS.map((part) => forbid([`${part}/**/*.{ts,tsx}`], otherParts(part))),
  ...Object.entries(ROOMS).flatMap(([part, rooms]) =>
    rooms.map((room) => forbid([`${part}/${room}/**/*.{ts,tsx}`], [...otherParts(part), ...laterRooms(part, room)])),
  ),
  {
    // What is heard and measured is the same in every engine: only what IEEE 754 fixes to the bit.
    files: DETERMINISTIC.map((room) => `core/${room}/**/*.ts`),
    ignores: ["**/*.test.ts", "core/math/deterministic-math.ts", "core/math/fast-math.ts"],
    rules: {
      "no-restricted-properties": [
        "error",
        ...ENGINES_CHOICE.map((property) => ({
          object: "Math",
          property,
          message: "Engines may choose its last bits: core/math/deterministic-math.ts has one that they may not.",
        })),
      ],
      "no-restricted-syntax": [
        "error",
        {
          selector: "BinaryExpression[operator='**']",
          message:
            "Engines may choose its last bits: use square, exp2, exp10 or power of core/math/deterministic-math.ts.",
        },
      ],
    },
  },
  { files: ["scripts/**", "cli/**", "demo/**", "tests/**", "bench/**"], rules: { "no-console": "off" } },
);
