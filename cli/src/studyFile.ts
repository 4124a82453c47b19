import { readFile } from "node:fs/promises";
import { type ReadResult, readStudyText } from "@busy-harbor/core";

/** A call that cannot be carried out as it was written. */
export class UsageError extends Error {}

/** Reads a study file. A file that cannot be read at all is a wrong call; one with problems is not. */
export async function readStudyFile(file: string): Promise<ReadResult> {
  let text: string;
  try {
    text = await readFile(file, "utf8");
  } catch (error) {
    throw new UsageError(`Cannot read ${file}: ${error instanceof Error ? error.message : String(error)}`);
  }
  return readStudyText(text);
}
