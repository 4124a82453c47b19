import { isFresh } from "./fresh.mjs";
import { inRoot } from "./paths.mjs";

/** Builds interface, server and command line, as far as sources are newer than what is there. */
export async function buildAll({ force = false } = {}) {
  const { buildNode } = await import("./build-node.mjs");
  await buildNode("server", { force });
  await buildNode("cli", { force });
  if (
    !force &&
    isFresh("web/dist/index.html", [
      "web/src",
      "web/index.html",
      "web/public",
      "web/vite.config.ts",
      "core/src",
      "package-lock.json",
    ])
  )
    return;
  const { build } = await import("vite");
  await build({ root: inRoot("web"), configFile: inRoot("web", "vite.config.ts"), logLevel: "warn" });
}
