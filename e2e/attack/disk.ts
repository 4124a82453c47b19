import { readFileSync } from "node:fs";
import { join } from "node:path";
import { smallDisk } from "../../server/test/smallDisk.ts";
import { startServer } from "../../server/test/startServer.ts";
import type { Outcome } from "./outcome.ts";

/**
 * Fills the disk under a run again and again: the run is held each time, ends with all its replications, and the
 * server stays.
 */
export async function attackByFullDisk(times: number): Promise<Outcome> {
  const disk = smallDisk(16);
  // Where no small disk can be made, the tests of the run queue inject the fault.
  if (!disk) return { counts: { "no-small-disk": 1 }, failures: [] };
  const failures: string[] = [];
  let helds = 0;
  const server = await startServer(disk.folder);
  const json = async <T>(path: string, body?: unknown): Promise<T> => {
    const response = await fetch(
      `${server.url}/api${path}`,
      body ? { method: "POST", headers: { "content-type": "application/json" }, body: JSON.stringify(body) } : {},
    );
    return (await response.json()) as T;
  };
  const within = async (ms: number, good: () => Promise<boolean>) => {
    for (const end = Date.now() + ms; Date.now() < end; await new Promise((resolve) => setTimeout(resolve, 30)))
      if (await good()) return true;
    return false;
  };
  try {
    const study = JSON.parse(readFileSync(join(process.cwd(), "demo/foot-passengers.json"), "utf8")) as unknown;
    const { id } = await json<{ id: string }>("/studies", { study });
    const REPLICATIONS = 1500;
    const { id: run } = await json<{ id: string }>(`/studies/${id}/runs`, {
      designId: "shared",
      settings: { replications: REPLICATIONS, length: "3 h" },
    });
    const state = () => json<{ state: string; held: string | null; finished: number }>(`/runs/${run}`);
    for (let i = 0; i < times && (await state()).state !== "done"; i++) {
      disk.fill();
      const held = await within(8000, async () => {
        const now = await state();
        return now.held !== null || now.state === "done";
      });
      if (!held) failures.push(`the ${i + 1}th time the run was not held`);
      else helds += 1;
      disk.empty();
      if (!(await within(8000, async () => (await state()).held === null)))
        failures.push(`the ${i + 1}th time the run did not go on`);
    }
    if (!(await within(60_000, async () => (await state()).state === "done")))
      failures.push(`the run ended as ${JSON.stringify(await state())}`);
    else if ((await state()).finished !== REPLICATIONS)
      failures.push(`${(await state()).finished} of ${REPLICATIONS} replications are there`);
  } catch (error) {
    failures.push(`the server was lost: ${error instanceof Error ? error.message : String(error)}`);
  } finally {
    await server.stop();
    disk.remove();
  }
  return { counts: { times, held: helds }, failures };
}
