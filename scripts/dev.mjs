// Development: the server restarts when its sources change, the interface reloads.
import { spawn } from "node:child_process";
import { watch } from "node:fs";
import { ensureInstalled } from "./lib/install.mjs";
import { inRoot, root } from "./lib/paths.mjs";

await ensureInstalled();
const { buildNode } = await import("./lib/build-node.mjs");
const apiPort = process.env.HARBOR_API_PORT ?? "4174";

let server;
async function restart() {
  try {
    await buildNode("server", { force: true });
  } catch {
    return; // esbuild has said why
  }
  const start = () =>
    (server = spawn(process.execPath, [inRoot("server", "dist", "main.mjs")], {
      cwd: root,
      stdio: "inherit",
      env: { ...process.env, PORT: apiPort },
    }));
  if (!server || server.exitCode !== null) start();
  else server.once("exit", start).kill("SIGTERM");
}

await restart();
for (const signal of ["SIGINT", "SIGTERM"]) {
  process.on(signal, () => {
    server?.kill("SIGTERM");
    process.exit(0);
  });
}
let timer;
for (const folder of ["server/src", "core/src"]) {
  watch(inRoot(folder), { recursive: true }, () => {
    clearTimeout(timer);
    timer = setTimeout(() => void restart(), 150);
  });
}

const { createServer } = await import("vite");
process.env.HARBOR_API_PORT = apiPort;
const vite = await createServer({ root: inRoot("web"), configFile: inRoot("web", "vite.config.ts") });
await vite.listen();
vite.printUrls();
