// Makes those pages of docs/ anew that come from what the program says of itself.
import { ensureInstalled } from "./lib/install.mjs";

await ensureInstalled();
const { runBundled } = await import("./lib/bundled.mjs");
await runBundled("scripts/docs/main.ts");
