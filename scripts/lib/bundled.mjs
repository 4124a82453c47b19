import { build } from "esbuild";
import { basename } from "node:path";
import { inRoot } from "./paths.mjs";
import { must } from "./run.mjs";

/** Bundles a script of the project and runs it, with variables added to the environment. */
export async function runBundled(script, env = {}) {
  const outfile = inRoot(".build", basename(script).replace(/\.ts$/, ".mjs"));
  await build({
    entryPoints: [inRoot(script)],
    outfile,
    bundle: true,
    packages: "external",
    platform: "node",
    format: "esm",
    target: "node20",
    logLevel: "error",
  });
  await must(process.execPath, [outfile], { env: { ...process.env, ...env } });
}
