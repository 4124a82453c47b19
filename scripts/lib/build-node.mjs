import { build } from "esbuild";
import { isFresh } from "./fresh.mjs";
import { inRoot } from "./paths.mjs";

const ENTRIES = {
  cli: { main: "harbor" },
  server: { main: "main" },
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
  const { main } = ENTRIES[name];
  if (!force && isFresh(`${name}/dist/${main}.mjs`, [`${name}/src`, "core/src", "package-lock.json"])) return;
  const bundle = (entry, format, extension) =>
    build({
      entryPoints: { [entry]: inRoot(name, "src", `${entry}.ts`) },
      outdir: inRoot(name, "dist"),
      outExtension: { ".js": extension },
      bundle: true,
      platform: "node",
      format,
      target: "node20",
      sourcemap: true,
      logLevel: "error",
      plugins: [packagesOutside],
    });
  await bundle(main, "esm", ".mjs");
  // What runs replications is no module but a function: the engine reaches a module's own names a quarter slower.
  await bundle("replicationWorker", "cjs", ".cjs");
  if (name !== "server") return;
  await bundle("documentWorker", "cjs", ".cjs");
  await bundle("readingWorker", "cjs", ".cjs");
}
