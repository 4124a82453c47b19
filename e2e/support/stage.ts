import { mkdtempSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { startServer, type TestServer } from "../../server/test/startServer.ts";
import { Person } from "./browser.ts";

export interface Stage {
  readonly server: TestServer;
  readonly person: Person;
}

/** Before the tests at hand, a server with an empty data folder and a person at a browser; both go after them. */
export function useStage(): Stage {
  const stage = {} as { server: TestServer; person: Person };
  beforeAll(async () => {
    stage.server = await startServer(mkdtempSync(join(tmpdir(), "harbor-data-")));
    stage.person = await Person.open();
  });
  afterAll(async () => {
    await stage.person.close();
    await stage.server.stop();
  });
  return stage;
}

/** Begins a new study and gives the floor the keys. */
export async function newStudy({ person, server }: Stage): Promise<void> {
  await person.go(server.url);
  await person.click("New study");
  await person.sees("Begin with Arrivals");
  await (await person.find("[data-testid=floor]")).click();
}
