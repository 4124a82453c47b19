// For people who edit: types, lint, format, and the unit tests that take no long while. "npm test" does the rest.
import { ensureInstalled } from "./lib/install.mjs";
import { inRoot } from "./lib/paths.mjs";
import { must } from "./lib/run.mjs";

await ensureInstalled();
const bin = (name) => inRoot("node_modules", ".bin", name);

/** Suites of thousands of random models, replications or starts of the server. */
const LONG = [
  "core/test/(properties|mutations|knownAnswers|distributions|turnedAway|recursion|kernel|inference|elementary|fitting|comparisons|stock)\\.",
  "web/test/spreadsheet\\.",
  "server/test/",
  "cli/test/",
  "scripts/test/",
];

const form = ["--check", "--log-level=warn", "--cache", "--cache-location", inRoot(".build", "prettiercache"), "."];
await Promise.all([
  must(process.execPath, [inRoot("scripts", "typecheck.mjs")]),
  must(bin("eslint"), [".", "--cache", "--cache-location", inRoot(".build", "eslintcache")]).then(() =>
    must(bin("prettier"), form),
  ),
  must(bin("jest"), [
    "--config",
    inRoot("jest.config.js"),
    "--testPathIgnorePatterns",
    ...LONG,
    ...process.argv.slice(2),
  ]),
]);
