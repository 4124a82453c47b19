import { createHash } from "node:crypto";
import { existsSync, readFileSync, writeFileSync } from "node:fs";
import { inRoot } from "./paths.mjs";
import { must } from "./run.mjs";

const stamp = inRoot("node_modules", ".harbor-installed");
const lockHash = () => createHash("sha256").update(readFileSync(inRoot("package-lock.json"))).digest("hex");
const sqliteBuilt = () => existsSync(inRoot("node_modules", "sqlite3", "build", "Release", "node_sqlite3.node"));

/** Installs packages from the lock file when they are missing or the lock file has changed. Uses nothing but Node itself. */
export async function ensureInstalled() {
  const wanted = lockHash();
  if (existsSync(stamp) && readFileSync(stamp, "utf8") === wanted && sqliteBuilt()) return;
  console.log("Installing packages from the lock file; sqlite3 compiles, which takes a few minutes …");
  await must("npm", ["ci", "--no-audit", "--no-fund"]);
  if (!sqliteBuilt()) await must("npm", ["rebuild", "sqlite3"]);
  writeFileSync(stamp, wanted);
}
