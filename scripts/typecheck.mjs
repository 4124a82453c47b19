// Checks the types of every part.
import { ensureInstalled } from "./lib/install.mjs";
import { inRoot } from "./lib/paths.mjs";
import { must } from "./lib/run.mjs";

await ensureInstalled();
for (const part of ["core", "core/test", "server", "cli", "web", "web/test", "bench", "e2e"])
  await must(inRoot("node_modules", ".bin", "tsc"), ["-p", part]);
