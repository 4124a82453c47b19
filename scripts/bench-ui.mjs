// Benchmarks of the interface in headless Chromium: one "name: value" a line.
import { ensureInstalled } from "./lib/install.mjs";
import { ensureChromium } from "./lib/chromium.mjs";

await ensureInstalled();
const env = await ensureChromium();
const { buildAll } = await import("./lib/build-all.mjs");
await buildAll();
const { runBundled } = await import("./lib/bundled.mjs");
await runBundled("e2e/benchUi.ts", env);
