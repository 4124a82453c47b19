// Benchmarks of the core: ratios within one run, one "name: value" a line.
import { ensureInstalled } from "./lib/install.mjs";
import { inRoot } from "./lib/paths.mjs";
import { must } from "./lib/run.mjs";

await ensureInstalled();
const { build } = await import("esbuild");
await build({
  entryPoints: [inRoot("bench/main.ts"), inRoot("bench/thread.ts"), inRoot("bench/mm1Thread.ts")],
  outdir: inRoot(".build/bench"),
  outExtension: { ".js": ".cjs" },
  bundle: true,
  platform: "node",
  format: "cjs",
  target: "node20",
  logLevel: "error",
});
await must(process.execPath, ["--expose-gc", inRoot(".build/bench/main.cjs")]);
