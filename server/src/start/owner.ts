import { readFileSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import sqlite3 from "sqlite3";
import { StartProblem } from "./startProblem.ts";

export interface Ownership {
  /** Tells others where this server is. */
  announce(url: string): void;
  release(): Promise<void>;
}

/**
 * Makes this process the one server of a data folder. The claim is a lock that the operating system keeps and takes
 * back when the process ends in whatever way, so that a crash leaves nothing behind; beside it stands who holds it.
 * Throws a `StartProblem` when another does.
 */
export async function own(directory: string): Promise<Ownership> {
  const note = join(directory, "owner.json");
  const lock = await new Promise<sqlite3.Database>((resolve, reject) => {
    const database: sqlite3.Database = new sqlite3.Database(join(directory, "owner.lock"), (error) =>
      error ? reject(error) : resolve(database),
    );
  });
  const held = await new Promise<Error | null>((resolve) =>
    lock.exec("PRAGMA locking_mode = EXCLUSIVE; PRAGMA busy_timeout = 200; BEGIN EXCLUSIVE", resolve),
  );
  if (held) {
    await new Promise((resolve) => lock.close(resolve));
    if (!/SQLITE_BUSY|SQLITE_LOCKED/.test(held.message)) throw held;
    throw new StartProblem(
      `${directory} is in use by another Busy Harbor${describe(note)}: use that one, end it, or name another data folder in HARBOR_DATA.`,
    );
  }
  const write = (url?: string) => {
    try {
      writeFileSync(
        note,
        JSON.stringify({ pid: process.pid, since: new Date().toISOString(), ...(url ? { url } : {}) }),
      );
    } catch {
      // Only a note for people: the lock itself holds without it.
    }
  };
  write();
  return {
    announce: write,
    release: () => new Promise((resolve) => lock.close(() => resolve())),
  };
}

/** Who the note says holds the lock, for a message; nothing where it cannot be read. */
function describe(note: string): string {
  try {
    const { pid, url } = JSON.parse(readFileSync(note, "utf8")) as { pid?: unknown; url?: unknown };
    return `, process ${String(pid)}${typeof url === "string" ? ` at ${url}` : ""}`;
  } catch {
    return "";
  }
}
