import { spawn } from "node:child_process";
import { root } from "./paths.mjs";

/** Runs a command to its end in the project's folder; resolves to its exit code. */
export function run(command, args, options = {}) {
  return new Promise((resolve, reject) => {
    const child = spawn(command, args, { cwd: root, stdio: "inherit", ...options });
    child.once("error", reject);
    child.once("exit", (code, signal) => resolve(code ?? (signal ? 1 : 0)));
  });
}

/** Runs a command and ends this process with its exit code if it fails. */
export async function must(command, args, options) {
  const code = await run(command, args, options);
  if (code !== 0) {
    console.error(`"${[command, ...args].join(" ")}" ended with exit code ${code}.`);
    process.exit(code);
  }
}
