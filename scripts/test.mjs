// All tests: Jest on core, server and command line, then the interface in Chromium on the built application.
// Ends with one line "N passed, N failed".
import { mkdtempSync, readFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { ensureInstalled } from "./lib/install.mjs";
import { ensureChromium } from "./lib/chromium.mjs";
import { inRoot } from "./lib/paths.mjs";
import { must, run } from "./lib/run.mjs";

// Comes while all else is installed, checked and tested.
const chromium = ensureChromium();
await ensureInstalled();
const bin = (name) => inRoot("node_modules", ".bin", name);
await Promise.all([
  must(process.execPath, [inRoot("scripts", "typecheck.mjs")]),
  must(bin("eslint"), ["."]).then(() => must(bin("prettier"), ["--check", "--log-level=warn", "."])),
]);
const { buildAll } = await import("./lib/build-all.mjs");
await buildAll();

const report = join(mkdtempSync(join(tmpdir(), "harbor-tests-")), "report.json");
let passed = 0;
let failed = 0;
// The interface has one browser at a time; all else takes every core.
for (const { config, more, needsBrowser } of [
  { config: "jest.config.js", more: ["--maxWorkers=100%"], needsBrowser: false },
  { config: "e2e/jest.config.js", more: [], needsBrowser: true },
]) {
  // Building has set the environment to that of production.
  const env = { ...process.env, NODE_ENV: "test", ...(needsBrowser ? await chromium : {}) };
  const code = await run(bin("jest"), ["--config", inRoot(config), ...more, "--json", `--outputFile=${report}`], {
    env,
  });
  const { numPassedTests, numFailedTests, numFailedTestSuites, numTotalTests } = JSON.parse(
    readFileSync(report, "utf8"),
  );
  passed += numPassedTests;
  // A suite that cannot even start has no failed tests of its own, and a run without tests proves nothing.
  failed += Math.max(numFailedTests, numFailedTestSuites, numTotalTests === 0 ? 1 : 0, code === 0 ? 0 : 1);
}
console.log(`${passed} passed, ${failed} failed`);
process.exit(failed === 0 ? 0 : 1);
