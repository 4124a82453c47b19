import { existsSync, readdirSync, statSync } from "node:fs";
import { join } from "node:path";
import { inRoot } from "./paths.mjs";

/** Time of the latest change among files and folders, in ms; 0 if none exists. */
function newest(paths) {
  let latest = 0;
  for (const path of paths) {
    if (!existsSync(path)) continue;
    const info = statSync(path);
    latest = Math.max(latest, info.mtimeMs);
    if (info.isDirectory()) latest = Math.max(latest, newest(readdirSync(path).map((name) => join(path, name))));
  }
  return latest;
}

/** Whether `target` is at least as new as everything it is made from (paths relative to the project). */
export function isFresh(target, sources) {
  const file = inRoot(target);
  return existsSync(file) && statSync(file).mtimeMs >= newest(sources.map((s) => inRoot(s)));
}
