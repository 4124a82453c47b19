// How often 95 % intervals hold the true value, over many experiments: one "name: value" a line.
import { ensureInstalled } from "./lib/install.mjs";
import { inRoot } from "./lib/paths.mjs";
import { run } from "./lib/run.mjs";

await ensureInstalled();
const { build } = await import("esbuild");
await build({
  entryPoints: [inRoot("bench/coverageMain.ts")],
  outfile: inRoot(".build/bench/coverage.cjs"),
  bundle: true,
  platform: "node",
  format: "cjs",
  target: "node20",
  logLevel: "error",
});
process.exitCode = await run(process.execPath, [inRoot(".build/bench/coverage.cjs"), ...process.argv.slice(2)]);
