import { resolve } from "node:path";
import { fileURLToPath } from "node:url";
import { pino } from "pino";
import { startServer } from "./server.ts";
import { portOf } from "./start/port.ts";
import { StartProblem } from "./start/startProblem.ts";
import { threadsOf } from "./start/threads.ts";

const log = pino({ level: process.env.HARBOR_LOG ?? "warn" }, pino.destination(2));
const fromHere = (path: string) => fileURLToPath(new URL(path, import.meta.url));

// What nobody waited for must not end the server: it is logged, and everybody else goes on.
process.on("unhandledRejection", (error) => log.error({ err: error }, "an error that nobody waited for"));

try {
  const server = await startServer({
    data: resolve(process.env.HARBOR_DATA ?? fromHere("../../data")),
    folders: process.env.HARBOR_FOLDERS,
    web: fromHere("../../web/dist"),
    port: portOf(process.env.PORT),
    threads: threadsOf(process.env.HARBOR_THREADS),
    orNextFree: true,
    log,
    replications: new URL("./replicationWorker.cjs", import.meta.url),
    documents: new URL("./documentWorker.cjs", import.meta.url),
    readings: new URL("./readingWorker.cjs", import.meta.url),
  });
  let stopping = false;
  for (const signal of ["SIGINT", "SIGTERM"] as const) {
    process.on(signal, () => {
      if (stopping) return;
      stopping = true;
      void server.close().finally(() => process.exit(0));
    });
  }
  process.stdout.write(`Busy Harbor is at ${server.url}\n`);
} catch (error) {
  process.stderr.write(
    `Busy Harbor cannot start: ${error instanceof StartProblem ? error.message : `an error of the program (${error instanceof Error ? error.message : String(error)}).`}\n`,
  );
  process.exit(1);
}
