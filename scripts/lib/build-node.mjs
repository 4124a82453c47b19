import { build } from "esbuild";
import { isFresh } from "./fresh.mjs";
import { inRoot } from "./paths.mjs";

const ENTRIES = {
  cli: { main: "harbor", entries: ["harbor", "replicationWorker"] },
  server: { main: "main", entries: ["main", "replicationWorker"] },
};

/** Packages stay where they are; the project's own workspaces are bundled. */
const packagesOutside = {
  name: "packages-outside",
  setup(on) {
    on.onResolve({ filter: /^[^./]/ }, ({ path, kind }) => {
      if (kind === "entry-point" || path.startsWith("@busy-harbor/") || /^[A-Za-z]:/.test(path)) return undefined;
      return { path, external: true };
    });
  },
};

/** Bundles the command line or the server for Node, unless what is there is up to date. */
export async function buildNode(name, { force = false } = {}) {
  const { main, entries } = ENTRIES[name];
  if (!force && isFresh(`${name}/dist/${main}.mjs`, [`${name}/src`, "core/src", "package-lock.json"])) return;
  await build({
    entryPoints: Object.fromEntries(entries.map((entry) => [entry, inRoot(name, "src", `${entry}.ts`)])),
    outdir: inRoot(name, "dist"),
    outExtension: { ".js": ".mjs" },
    bundle: true,
    platform: "node",
    format: "esm",
    target: "node20",
    sourcemap: true,
    logLevel: "error",
    plugins: [packagesOutside],
  });
}
