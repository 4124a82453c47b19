// The one command: installs what is missing, builds what is out of date, and serves Busy Harbor.
import { ensureInstalled } from "./lib/install.mjs";

await ensureInstalled();
const { buildAll } = await import("./lib/build-all.mjs");
await buildAll();
await import("../server/dist/main.mjs");
