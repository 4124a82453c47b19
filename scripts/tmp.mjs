import { ensureInstalled } from "./lib/install.mjs";
import { ensureChromium } from "./lib/chromium.mjs";
await ensureInstalled();
const env = await ensureChromium();
const { runBundled } = await import("./lib/bundled.mjs");
await runBundled("e2e/tmp.ts", env);
