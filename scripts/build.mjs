// Builds everything anew.
import { ensureInstalled } from "./lib/install.mjs";

await ensureInstalled();
const { buildAll } = await import("./lib/build-all.mjs");
await buildAll({ force: true });
