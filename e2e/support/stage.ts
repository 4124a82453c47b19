import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { startServer, type TestServer } from "../../server/test/startServer.ts";
import { Person } from "./browser.ts";

/** A server of its own with an empty data folder, and a person at a browser; `close` ends both. */
export async function openStage(): Promise<{ server: TestServer; person: Person; close: () => Promise<void> }> {
  const server = await startServer(mkdtempSync(join(tmpdir(), "harbor-data-")));
  const person = await Person.open();
  return {
    server,
    person,
    async close() {
      await person.close();
      await server.stop();
    },
  };
}
