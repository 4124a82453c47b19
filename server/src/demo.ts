import { readdir, readFile } from "node:fs/promises";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import { readStudyText, type Study } from "@busy-harbor/core";
import type { StudyStore } from "./store/studies.ts";

const directory = process.env.HARBOR_DEMO ?? fileURLToPath(new URL("../../demo", import.meta.url));

/** Names of the demo studies that ship with the application. */
export async function demoNames(): Promise<string[]> {
  return (await readdir(directory)).filter((name) => name.endsWith(".json")).sort();
}

export async function readDemo(name: string): Promise<Study> {
  const read = readStudyText(await readFile(join(directory, name), "utf8"));
  if (!read.ok) throw new Error(`The demo study ${name} cannot be read: ${JSON.stringify(read.problems)}`);
  return read.study;
}

/** Adds the demo studies that this database has never had. */
export async function loadDemo(studies: StudyStore): Promise<void> {
  for (const name of await demoNames()) {
    if (!(await studies.hasDemo(name))) await studies.create(await readDemo(name), name);
  }
}
