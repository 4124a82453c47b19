// Makes docs/screenshots anew from the demo, with the built application.
import { ensureInstalled } from "./lib/install.mjs";
import { ensureChromium } from "./lib/chromium.mjs";
import { inRoot } from "./lib/paths.mjs";
import { must } from "./lib/run.mjs";

await ensureInstalled();
const chromium = await ensureChromium();
const { buildAll } = await import("./lib/build-all.mjs");
await buildAll();
const { build } = await import("esbuild");
await build({ entryPoints: [inRoot("e2e/screenshots.ts")], outfile: inRoot(".build/screenshots.mjs"), bundle: true, packages: "external", platform: "node", format: "esm", target: "node20", logLevel: "error" });
await must(process.execPath, [inRoot(".build/screenshots.mjs")], { env: { ...process.env, ...chromium } });
