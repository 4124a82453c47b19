import { resolve } from "node:path";
import { fileURLToPath } from "node:url";
import { pino } from "pino";
import { startServer } from "./server.ts";

const log = pino({ level: process.env.HARBOR_LOG ?? "warn" }, pino.destination(2));
const fromHere = (path: string) => fileURLToPath(new URL(path, import.meta.url));

const server = await startServer({
  data: resolve(process.env.HARBOR_DATA ?? fromHere("../../data")),
  web: fromHere("../../web/dist"),
  port: Number(process.env.PORT ?? 4173),
  orNextFree: true,
  log,
  worker: new URL("./replicationWorker.cjs", import.meta.url),
});
process.stdout.write(`Busy Harbor is at ${server.url}\n`);

let stopping = false;
for (const signal of ["SIGINT", "SIGTERM"] as const) {
  process.on(signal, () => {
    if (stopping) return;
    stopping = true;
    void server.close().then(() => process.exit(0));
  });
}
