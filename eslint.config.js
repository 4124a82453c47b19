import { createTypeScriptImportResolver } from "eslint-import-resolver-typescript";
import importX from "eslint-plugin-import-x";
import reactHooks from "eslint-plugin-react-hooks";
import globals from "globals";
import tseslint from "typescript-eslint";

/** Dependencies point one way: core knows no other folder; server, web and cli know core and not each other. */
const zone = (target, ...from) => ({ target, from, message: "Dependencies point one way: see docs/architecture.md." });

/** Within core, each folder may use those before it. */
const layers = [
  "numeric",
  "quantity",
  "random",
  "expression",
  "settings",
  "document",
  "movement",
  "timetable",
  "statistics",
  "kept",
  "kernel",
  "measures",
  "model",
  "lowering",
  "logic",
  "elements",
  "study",
  "inference",
  "fitting",
  "compile",
  "experiments",
  "contract",
];
const coreZones = layers
  .slice(0, -1)
  .map((layer, i) => zone(`./core/src/${layer}`, ...layers.slice(i + 1).map((later) => `./core/src/${later}`)));

export default tseslint.config(
  { ignores: ["**/dist/", "**/node_modules/", ".build/", "data/"] },
  ...tseslint.configs.recommended,
  {
    plugins: { "import-x": importX },
    // Without these the rules below read no TypeScript, and report nothing.
    settings: {
      "import-x/resolver-next": [createTypeScriptImportResolver()],
      "import-x/parsers": { "@typescript-eslint/parser": [".ts", ".tsx"] },
      "import-x/extensions": [".ts", ".tsx", ".js", ".mjs"],
    },
    rules: {
      "import-x/no-cycle": "error",
      "import-x/no-restricted-paths": [
        "error",
        {
          zones: [
            zone("./core", "./server", "./web", "./cli", "./e2e"),
            zone("./server", "./web", "./cli", "./e2e"),
            zone("./web", "./server", "./cli", "./e2e"),
            zone("./cli", "./server", "./web", "./e2e"),
            ...coreZones,
          ],
        },
      ],
      "@typescript-eslint/no-explicit-any": "error",
      "@typescript-eslint/no-unused-vars": ["error", { argsIgnorePattern: "^_", varsIgnorePattern: "^_" }],
      eqeqeq: "error",
      // Prettier wraps what it can; what stays longer is one long text.
      "max-len": [
        "error",
        {
          code: 120,
          ignoreStrings: true,
          ignoreTemplateLiterals: true,
          ignoreRegExpLiterals: true,
        },
      ],
    },
  },
  {
    files: ["core/src/**"],
    rules: {
      // A longer one says beside it why it is.
      "max-lines-per-function": ["error", { max: 80, skipBlankLines: true, skipComments: true }],
      "no-restricted-globals": [
        "error",
        "window",
        "document",
        "process",
        "Buffer",
        "require",
        "fetch",
        "setTimeout",
        "performance",
      ],
      "no-restricted-properties": [
        "error",
        ...[
          "log",
          "exp",
          "pow",
          "sin",
          "cos",
          "tan",
          "sinh",
          "cosh",
          "tanh",
          "log10",
          "log2",
          "log1p",
          "expm1",
          "hypot",
          "cbrt",
          "atan2",
          "asin",
          "acos",
          "atan",
        ].map((property) => ({
          object: "Math",
          property,
          message: "Its last bit differs between engines: use core/src/numeric.",
        })),
      ],
      "no-restricted-imports": ["error", { patterns: ["node:*", "fs", "path"] }],
    },
  },
  {
    files: ["web/src/**"],
    plugins: { "react-hooks": reactHooks },
    rules: { "react-hooks/rules-of-hooks": "error", "react-hooks/exhaustive-deps": "error" },
  },
  { files: ["**/*.mjs", "**/*.js"], languageOptions: { globals: globals.node } },
);
