// Benchmarks of the core: ratios within one run, one "name: value" a line.
import { ensureInstalled } from "./lib/install.mjs";
import { inRoot } from "./lib/paths.mjs";
import { must } from "./lib/run.mjs";

await ensureInstalled();
const { build } = await import("esbuild");
await build({
  entryPoints: [inRoot("bench/main.ts"), inRoot("bench/thread.ts")],
  outdir: inRoot(".build/bench"),
  outExtension: { ".js": ".mjs" },
  bundle: true,
  platform: "node",
  format: "esm",
  target: "node20",
  logLevel: "error",
  // Some mathematical packages are written for require.
  banner: { js: 'import { createRequire } from "node:module"; const require = createRequire(import.meta.url);' },
});
await must(process.execPath, ["--expose-gc", inRoot(".build/bench/main.mjs")]);
