// Spreadsheets to and from an independent office program, one line a check. Not part of the tests: it takes a large
// package.
import { spawnSync } from "node:child_process";
import { existsSync } from "node:fs";
import { ensureInstalled } from "./lib/install.mjs";
import { inRoot } from "./lib/paths.mjs";
import { must } from "./lib/run.mjs";

await ensureInstalled();
if (spawnSync("which", ["soffice"]).status !== 0) {
  if (!existsSync("/etc/debian_version") || process.getuid?.() !== 0) {
    console.error("An office program is needed (on Debian: apt-get install libreoffice-calc-nogui).");
    process.exit(1);
  }
  const env = { ...process.env, DEBIAN_FRONTEND: "noninteractive" };
  await must("apt-get", ["update", "-qq"], { env });
  await must("apt-get", ["install", "-y", "-qq", "--no-install-recommends", "libreoffice-calc-nogui"], {
    env,
    stdio: ["ignore", "ignore", "inherit"],
  });
}
const { build } = await import("esbuild");
const outfile = inRoot(".build", "checkOffice.cjs");
await build({
  entryPoints: [inRoot("e2e/checkOffice.ts")],
  outfile,
  bundle: true,
  platform: "node",
  format: "cjs",
  target: "node20",
  logLevel: "error",
});
await must(process.execPath, [outfile]);
