/**
 * Lint: correctness, promises, accessibility, and the walls: what each part and each of its rooms may import, and what
 * is heard and measured in deterministic mathematics alone.
 */
import { defineConfig } from "oxlint";

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
export const DETERMINISTIC = [
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
  excludeFiles: ["**/*.test.ts", "**/*.test.tsx"],
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

export default defineConfig({
  plugins: ["typescript", "import", "react", "jsx-a11y"],
  categories: { correctness: "error" },
  options: { typeAware: true },
  ignorePatterns: [
    "**/node_modules",
    ".next",
    ".build",
    "dist",
    "data",
    "public",
    "**/assembly.ts",
    "**/*.generated.ts",
  ],
  rules: {
    "import/no-cycle": "error",
    "no-var": "error",
    "prefer-const": "error",
    "react/rules-of-hooks": "error",
    "typescript/ban-ts-comment": "error",
    "typescript/no-empty-object-type": "error",
    "typescript/no-explicit-any": "error",
    "typescript/no-floating-promises": "error",
    "typescript/no-misused-promises": "error",
    "typescript/await-thenable": "error",
    "typescript/only-throw-error": "error",
    "typescript/restrict-plus-operands": "error",
    "typescript/no-base-to-string": "error",
    "typescript/switch-exhaustiveness-check": [
      "error",
      {
        considerDefaultExhaustiveForUnions: true,
      },
    ],
    "jsx-a11y/prefer-tag-over-role": "off",
    "typescript/unbound-method": "off",
    "no-control-regex": "off",
    "no-unused-vars": [
      "error",
      {
        argsIgnorePattern: "^_",
        varsIgnorePattern: "^_",
        ignoreRestSiblings: true,
        destructuredArrayIgnorePattern: "^_",
      },
    ],
    "jsx-a11y/no-autofocus": "off",
    "jsx-a11y/label-has-associated-control": [
      "error",
      {
        depth: 4,
        controlComponents: ["Select", "RoleSelect"],
      },
    ],
    "jsx-a11y/no-noninteractive-element-interactions": "off",
    "jsx-a11y/no-noninteractive-tabindex": "off",
    "react/refs": "off",
    "react/incompatible-library": "off",
    "typescript/require-array-sort-compare": "off",
    "jsx-a11y/control-has-associated-label": "off",
  },
  overrides: [
    {
      files: ["{core,playback,server,ui,app,receivers}/**"],
      rules: { "no-console": ["error", { allow: ["warn", "error"] }] },
    },
    ...PARTS.map((part) => forbid([`${part}/**/*.{ts,tsx}`], otherParts(part))),
    ...Object.entries(ROOMS).flatMap(([part, rooms]) =>
      rooms.map((room) => forbid([`${part}/${room}/**/*.{ts,tsx}`], [...otherParts(part), ...laterRooms(part, room)])),
    ),
    {
      // What is heard and measured is the same in every engine: only what IEEE 754 fixes to the bit.
      files: DETERMINISTIC.map((room) => `core/${room}/**/*.ts`),
      excludeFiles: ["**/*.test.ts", "core/math/deterministic-math.ts", "core/math/fast-math.ts"],
      rules: {
        "no-restricted-properties": [
          "error",
          ...ENGINES_CHOICE.map((property) => ({
            object: "Math",
            property,
            message: "Engines may choose its last bits: core/math/deterministic-math.ts has one that they may not.",
          })),
        ],
      },
    },
  ],
});
