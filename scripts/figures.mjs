// Bits of every figure of the demos, the known answers and random models: kept in a file, and compared with it later.
import { ensureInstalled } from "./lib/install.mjs";
import { inRoot } from "./lib/paths.mjs";
import { run } from "./lib/run.mjs";

await ensureInstalled();
const { build } = await import("esbuild");
await build({
  entryPoints: [inRoot("bench/figures.ts")],
  outfile: inRoot(".build/bench/figures.cjs"),
  bundle: true,
  platform: "node",
  format: "cjs",
  target: "node20",
  logLevel: "error",
});
process.exitCode = await run(process.execPath, [inRoot(".build/bench/figures.cjs"), ...process.argv.slice(2)], {
  cwd: inRoot(),
});
