import { type ChildProcess, spawn } from "node:child_process";
import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";

/** Tests run from the project folder. */
const root = process.cwd();

/** The built server as a process of its own, on a free port, with its own data folder. */
export interface TestServer {
  readonly url: string;
  readonly data: string;
  readonly pid: number;
  /** What it has written to its log so far. */
  errors(): string;
  stop(signal?: NodeJS.Signals): Promise<void>;
}

export async function startServer(data = mkdtempSync(join(tmpdir(), "harbor-data-"))): Promise<TestServer> {
  const child: ChildProcess = spawn(process.execPath, [join(root, "server", "dist", "main.mjs")], {
    env: { ...process.env, PORT: "0", HARBOR_DATA: data },
    stdio: ["ignore", "pipe", "pipe"],
  });
  let log = "";
  child.stderr!.on("data", (chunk: Buffer) => {
    log += chunk.toString();
    process.stderr.write(chunk);
  });
  const url = await new Promise<string>((resolve, reject) => {
    let text = "";
    child.stdout!.on("data", (chunk: Buffer) => {
      text += chunk.toString();
      const found = /http:\/\/127\.0\.0\.1:\d+/.exec(text);
      if (found) resolve(found[0]);
    });
    child.once("exit", (code) => reject(new Error(`The server ended with code ${code} before it was ready: ${text}`)));
  });
  return {
    url,
    data,
    pid: child.pid ?? 0,
    errors: () => log,
    stop: (signal = "SIGTERM") =>
      new Promise((resolve) => {
        if (child.exitCode !== null || child.signalCode !== null) return resolve();
        child.once("exit", () => resolve());
        child.kill(signal);
      }),
  };
}
