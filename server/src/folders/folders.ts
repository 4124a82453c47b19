import type { Dirent } from "node:fs";
import { open, readdir, realpath, stat } from "node:fs/promises";
import { basename, delimiter, join, relative, resolve, sep } from "node:path";
import type { Folder, FolderFile } from "@busy-harbor/core/contract";
import { HttpProblem } from "../api/problems.ts";

/** What may be read of a folder: spreadsheets and text, so that nothing else of it is ever shown. */
const READ = /\.(xlsx|csv|tsv|txt)$/i;
/** The most that a file may have, in bytes; the same as where a person chooses one. */
const MOST_BYTES = 64 * 1024 * 1024;
/** What runs write is not offered: of many replications it would hide all else. */
const OWN = "observations";
const MOST_FILES = 2000;
const MOST_DEPTH = 5;

interface Allowed {
  readonly name: string;
  readonly path: string;
}

/** A file of a folder as it is now. */
export interface FileNow {
  readonly bytes: Buffer;
  /** When it was last changed, by ISO 8601. */
  readonly changedAt: string;
}

/**
 * The folders whose spreadsheets and texts tables may be linked to: the data folder, and those that a person names.
 * Files are asked for by the name of a folder and a path in it; a link that leads out of the folder is not followed.
 */
export class Folders {
  private readonly allowed: readonly Allowed[];

  /** `further` has paths parted as the system parts those of programs. */
  constructor(data: string, further = "") {
    const names = new Set(["data"]);
    const others = further
      .split(delimiter)
      .filter((path) => path.trim() !== "")
      .map((text): Allowed => {
        const path = resolve(text.trim());
        const base = basename(path) || path;
        let name = base;
        for (let n = 2; names.has(name); n++) name = `${base} ${n}`;
        names.add(name);
        return { name, path };
      });
    this.allowed = [{ name: "data", path: resolve(data) }, ...others];
  }

  /** The folders with their files, each folder's by path. A folder that is not there has none. */
  list(): Promise<Folder[]> {
    return Promise.all(
      this.allowed.map(async ({ name, path }): Promise<Folder> => {
        const files: FolderFile[] = [];
        await gather(path, path, MOST_DEPTH, files);
        return { name, path, files: files.sort((a, b) => a.path.localeCompare(b.path)) };
      }),
    );
  }

  /** Reads a file. Throws an `HttpProblem` where that is not allowed, or it is not there. */
  async read(folder: string, path: string): Promise<FileNow> {
    const allowed = this.allowed.find(({ name }) => name === folder);
    if (!allowed)
      throw new HttpProblem(403, "folder-not-allowed", `The server may not read a folder called "${folder}".`, {
        detail: "Name it in HARBOR_FOLDERS when starting Busy Harbor, or link the table to another file.",
      });
    if (!READ.test(path))
      throw new HttpProblem(403, "file-not-allowed", "Only XLSX, CSV, TSV and TXT files are read.", {
        detail: "Save it as one of these.",
      });
    const whole = await this.inside(allowed, path);
    const file = await open(whole, "r").catch(() => {
      throw missing(allowed, path);
    });
    try {
      const { size, mtime } = await file.stat();
      if (size > MOST_BYTES)
        throw new HttpProblem(413, "too-large", `${path} is larger than 64 MB.`, {
          detail: "Link the table to a part of it.",
        });
      return { bytes: await file.readFile(), changedAt: mtime.toISOString() };
    } finally {
      await file.close();
    }
  }

  /** The true place of a path in a folder, wherever links lead. */
  private async inside(allowed: Allowed, path: string): Promise<string> {
    const root = await realpath(allowed.path).catch(() => {
      throw missing(allowed, path);
    });
    const whole = await realpath(resolve(root, path)).catch(() => {
      throw missing(allowed, path);
    });
    if (!isInside(root, whole))
      throw new HttpProblem(403, "file-not-allowed", `"${path}" leads out of the folder ${allowed.name}.`, {
        detail: "Put the file itself there, or allow its folder in HARBOR_FOLDERS.",
      });
    return whole;
  }
}

const missing = ({ name, path: folder }: Allowed, path: string): HttpProblem =>
  new HttpProblem(404, "no-such-file", `There is no file "${path}" in the folder ${name}.`, {
    detail: `It was looked for in ${folder}. Put it back, or link the table to another file.`,
  });

const isInside = (root: string, whole: string): boolean => {
  const way = relative(root, whole);
  return way !== "" && way !== ".." && !way.startsWith(`..${sep}`) && resolve(root, way) === whole;
};

/** Finds the files that may be read, folder by folder; hidden ones and links are left out. */
async function gather(root: string, at: string, depth: number, found: FolderFile[]): Promise<void> {
  const entries = await readdir(at, { withFileTypes: true }).catch((): Dirent[] => []);
  for (const entry of entries) {
    if (found.length >= MOST_FILES) return;
    if (entry.name.startsWith(".") || entry.name.startsWith("~$")) continue;
    const path = join(at, entry.name);
    if (entry.isDirectory() && depth > 0 && entry.name !== OWN) await gather(root, path, depth - 1, found);
    if (!entry.isFile() || !READ.test(entry.name)) continue;
    const about = await stat(path).catch(() => undefined);
    if (!about) continue;
    found.push({
      path: relative(root, path).split(sep).join("/"),
      bytes: about.size,
      changedAt: about.mtime.toISOString(),
    });
  }
}
