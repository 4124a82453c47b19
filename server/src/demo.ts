import { readdir, readFile } from "node:fs/promises";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import type { Logger } from "pino";
import type { Documents } from "./documents/documents.ts";
import type { PreparedStudy } from "./documents/prepared.ts";
import type { StudyStore } from "./store/studies.ts";

const directory = process.env.HARBOR_DEMO ?? fileURLToPath(new URL("../../demo", import.meta.url));

/** Names of the demo studies that ship with the application. */
export async function demoNames(): Promise<string[]> {
  return (await readdir(directory)).filter((name) => name.endsWith(".json")).sort();
}

export async function readDemo(name: string, documents: Documents): Promise<PreparedStudy> {
  const study = JSON.parse(await readFile(join(directory, name), "utf8")) as unknown;
  return documents.readNew(Buffer.from(JSON.stringify({ study })));
}

/**
 * Adds the demo studies that this database has never had. One that cannot be added keeps nothing else from starting.
 */
export async function loadDemo(studies: StudyStore, documents: Documents, log: Logger): Promise<void> {
  for (const name of await demoNames()) {
    try {
      if (!(await studies.hasDemo(name))) await studies.create(await readDemo(name, documents), name);
    } catch (error) {
      log.error({ err: error, demo: name }, "a demo study could not be loaded");
    }
  }
}
