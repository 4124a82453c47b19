import { createHash } from "node:crypto";
import { existsSync, readFileSync, writeFileSync } from "node:fs";
import { inRoot } from "./paths.mjs";
import { must, run } from "./run.mjs";

const stamp = inRoot("node_modules", ".harbor-installed");
const lockHash = () => createHash("sha256").update(readFileSync(inRoot("package-lock.json"))).digest("hex");
const sqliteBuilt = () => existsSync(inRoot("node_modules", "sqlite3", "build", "Release", "node_sqlite3.node"));

/** Installs packages from the lock file when they are missing or the lock file has changed. Uses nothing but Node itself. */
export async function ensureInstalled() {
  const wanted = lockHash();
  if (existsSync(stamp) && readFileSync(stamp, "utf8") === wanted && sqliteBuilt()) return;
  console.log("Installing packages from the lock file; sqlite3 compiles, which takes a few minutes …");
  // "npm ci" refuses a lock file that lacks other platforms' optional packages, which not every registry serves;
  // "npm install" takes the same locked versions, and without saving leaves the lock file as it is.
  const quiet = ["--no-audit", "--no-fund", "--loglevel=error"];
  const clean = await run("npm", ["ci", ...quiet], { stdio: "ignore" });
  if (clean !== 0) await must("npm", ["install", "--no-save", ...quiet]);
  if (!sqliteBuilt()) await must("npm", ["rebuild", "sqlite3"]);
  writeFileSync(stamp, wanted);
}
