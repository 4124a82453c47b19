// Attacks the application with mutated documents, kills, odd requests and hostile drawings; prints counts and what
// failed.
import { ensureInstalled } from "./lib/install.mjs";
import { ensureChromium } from "./lib/chromium.mjs";

await ensureInstalled();
const env = await ensureChromium();
const { buildAll } = await import("./lib/build-all.mjs");
await buildAll();
const { runBundled } = await import("./lib/bundled.mjs");
await runBundled("e2e/attack/main.ts", env);
