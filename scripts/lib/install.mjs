import { createHash } from "node:crypto";
import { copyFileSync, existsSync, mkdirSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { inRoot, root } from "./paths.mjs";
import { must } from "./run.mjs";

const stamp = inRoot("node_modules", ".harbor-installed");
const lockHash = () =>
  createHash("sha256")
    .update(readFileSync(inRoot("package-lock.json")))
    .digest("hex");
const sqliteBuilt = () => existsSync(inRoot("node_modules", "sqlite3", "build", "Release", "node_sqlite3.node"));

/**
 * Installs packages from the lock file when they are missing or the lock file has changed. Uses nothing but Node
 * itself.
 */
export async function ensureInstalled() {
  const wanted = lockHash();
  if (existsSync(stamp) && readFileSync(stamp, "utf8") === wanted && sqliteBuilt()) return;
  console.log("Installing packages from the lock file; sqlite3 compiles, which takes a few minutes …");
  const quiet = ["--no-audit", "--no-fund", "--loglevel=error", ...(/\s/.test(root) ? ["--ignore-scripts"] : [])];
  await must("npm", ["ci", ...quiet]);
  if (!sqliteBuilt()) await buildSqliteElsewhere();
  writeFileSync(stamp, wanted);
}

/** sqlite3's build fails in a path with a space in it: build it in a folder of its own, and take the result. */
async function buildSqliteElsewhere() {
  const { version } = JSON.parse(readFileSync(inRoot("node_modules", "sqlite3", "package.json"), "utf8"));
  const folder = mkdtempSync(join(tmpdir(), "harbor-sqlite-"));
  writeFileSync(
    join(folder, "package.json"),
    JSON.stringify({ private: true, dependencies: { sqlite3: version }, allowScripts: { sqlite3: true } }),
  );
  await must("npm", ["install", "--no-audit", "--no-fund", "--loglevel=error"], { cwd: folder });
  const release = ["node_modules", "sqlite3", "build", "Release"];
  mkdirSync(inRoot(...release), { recursive: true });
  copyFileSync(join(folder, ...release, "node_sqlite3.node"), inRoot(...release, "node_sqlite3.node"));
  rmSync(folder, { recursive: true, force: true });
}
