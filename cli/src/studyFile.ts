import { open } from "node:fs/promises";
import { MAX_STUDY_TEXT, type ReadResult, readStudyText } from "@busy-harbor/core";
import { UsageError } from "./console.ts";

/** The text of a file; what cannot be read, or is larger than any study, is a wrong call. */
export async function readText(path: string): Promise<string> {
  const cannot = (why: string) => new UsageError(`Cannot read ${path}: ${why}`);
  const file = await open(path, "r").catch((error: unknown) => {
    throw cannot(error instanceof Error ? error.message : String(error));
  });
  try {
    const { size } = await file.stat();
    if (size > 4 * MAX_STUDY_TEXT)
      throw cannot(`it has ${Math.ceil(size / 2 ** 20)} MB, more than any study file may have.`);
    return await file.readFile("utf8");
  } catch (error) {
    throw error instanceof UsageError ? error : cannot(error instanceof Error ? error.message : String(error));
  } finally {
    await file.close();
  }
}

/** Reads a study file. A file that cannot be read at all is a wrong call; one with problems is not. */
export const readStudyFile = async (path: string): Promise<ReadResult> => readStudyText(await readText(path));
