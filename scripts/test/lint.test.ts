import { spawnSync } from "node:child_process";
import { mkdirSync, mkdtempSync, rmSync, symlinkSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { dirname, join } from "node:path";

const root = process.cwd();
const tree = mkdtempSync(join(tmpdir(), "harbor-lint-"));
symlinkSync(join(root, "node_modules"), join(tree, "node_modules"));
writeFileSync(join(tree, "package.json"), JSON.stringify({ type: "module" }));
writeFileSync(
  join(tree, "tsconfig.json"),
  JSON.stringify({
    compilerOptions: { module: "ESNext", moduleResolution: "Bundler", allowImportingTsExtensions: true, noEmit: true },
  }),
);
afterAll(() => rmSync(tree, { recursive: true, force: true }));

/** Rules that the project's linter reports in a tree of these files. */
function reported(files: Readonly<Record<string, string>>): string[] {
  for (const [name, text] of Object.entries(files)) {
    mkdirSync(dirname(join(tree, name)), { recursive: true });
    writeFileSync(join(tree, name), text);
  }
  const { stdout, stderr } = spawnSync(
    process.execPath,
    [
      join(root, "node_modules/eslint/bin/eslint.js"),
      "--config",
      join(root, "eslint.config.js"),
      "--format",
      "json",
      ...Object.keys(files),
    ],
    { cwd: tree, encoding: "utf8" },
  );
  const results = JSON.parse(stdout || JSON.stringify([{ messages: [{ ruleId: stderr }] }])) as {
    messages: { ruleId: string }[];
  }[];
  return [...new Set(results.flatMap((r) => r.messages.map((m) => m.ruleId)))].sort();
}

jest.setTimeout(60_000);

test("a circle of imports is reported", () => {
  expect(
    reported({
      "core/src/kernel/plantedOne.ts":
        'import { two } from "./plantedTwo.ts";\nexport const one = (): number => two() + 1;\n',
      "core/src/kernel/plantedTwo.ts":
        'import { one } from "./plantedOne.ts";\nexport const two = (): number => one() + 1;\n',
    }),
  ).toEqual(["import-x/no-cycle"]);
});

test("a wrong arrow is reported, between folders and within the core", () => {
  const target = {
    "core/src/compile/planted.ts": "export const later = 1;\n",
    "web/src/planted.ts": "export const shown = 1;\n",
  };
  expect(
    reported({
      ...target,
      "core/src/kernel/planted.ts": 'import { later } from "../compile/planted.ts";\nexport const early = later;\n',
    }),
  ).toEqual(["import-x/no-restricted-paths"]);
  expect(
    reported({
      ...target,
      "server/src/planted.ts": 'import { shown } from "../../web/src/planted.ts";\nexport const served = shown;\n',
    }),
  ).toEqual(["import-x/no-restricted-paths"]);
  expect(
    reported({
      ...target,
      "core/src/contract/planted.ts": 'import { later } from "../compile/planted.ts";\nexport const fine = later;\n',
    }),
  ).toEqual([]);
});

test("what differs between engines is kept out of the core", () => {
  expect(
    reported({
      "core/src/numeric/planted.ts":
        "export const log = (x: number): number => Math.log(x);\nexport const now = (): number => performance.now();\n",
    }),
  ).toEqual(["no-restricted-globals", "no-restricted-properties"]);
});

test("a function of the core that is too long is reported, unless it says why; so is a line, but for a text", () => {
  const long = (lines: number) =>
    `export function planted(x: number): number {\n  let y = x;\n${"  y += 1;\n".repeat(lines)}  return y;\n}\n`;
  const why = "// eslint-disable-next-line max-lines-per-function -- one table\n";
  expect(reported({ "core/src/kernel/plantedLong.ts": long(79) })).toEqual(["max-lines-per-function"]);
  expect(reported({ "core/src/kernel/plantedLong.ts": long(70) })).toEqual([]);
  expect(reported({ "core/src/kernel/plantedLong.ts": why + long(79) })).toEqual([]);
  expect(reported({ "web/src/plantedLong.ts": long(79) })).toEqual([]);
  const wide = (text: string) => `export const planted = ${text};\n`;
  expect(reported({ "core/src/kernel/plantedWide.ts": wide(Array(50).fill("1").join(" + ")) })).toEqual(["max-len"]);
  expect(reported({ "core/src/kernel/plantedWide.ts": wide(`"${"word ".repeat(40)}"`) })).toEqual([]);
});
