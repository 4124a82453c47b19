import { closeSync, mkdirSync, openSync, readSync, renameSync, unlinkSync, writeFileSync, writeSync } from "node:fs";
import { readdir, readFile } from "node:fs/promises";
import { join } from "node:path";
import { type Keep, keptOf, type Program } from "@busy-harbor/core";
import { type Kept, type KeptInRun, keptSchema } from "@busy-harbor/core/contract";
import type { Series } from "@busy-harbor/core/kept";

/** Where it is told what is kept. */
const ABOUT = "about.json";
/** Numbers that are gathered before they are written, and that are read at a time: whole pairs. */
const AT_ONCE = 16_384;

/** The file of what was kept of a source, by its position, in one replication: pairs of 64-bit numbers. */
const keptFile = (folder: string, source: number, replication: number): string =>
  join(folder, String(source), `${replication}.f64`);

/** Writes what is kept of a replication while it runs: a file a source, which stands there once all is in it. */
export class KeptWriter {
  private readonly files: readonly { readonly path: string; readonly file: number }[];
  private readonly rooms: readonly Float64Array[];
  private readonly filled: Int32Array;

  /** Throws what the file system says where the files cannot be made. */
  constructor(program: Program, folder: string, replication: number) {
    const sources = keptOf(program);
    mkdirSync(folder, { recursive: true });
    writeFileSync(join(folder, ABOUT), JSON.stringify(aboutOf(program)));
    this.files = sources.map((_, source) => {
      const path = keptFile(folder, source, replication);
      mkdirSync(join(folder, String(source)), { recursive: true });
      return { path, file: openSync(`${path}.part`, "w") };
    });
    this.rooms = sources.map(() => new Float64Array(AT_ONCE));
    this.filled = new Int32Array(sources.length);
  }

  readonly keep: Keep = (source, at, value) => {
    const room = this.rooms[source];
    const n = this.filled[source];
    room[n] = at;
    room[n + 1] = value;
    this.filled[source] = n + 2;
    if (n + 2 === AT_ONCE) this.write(source);
  };

  private write(source: number): void {
    const bytes = new Uint8Array(this.rooms[source].buffer, 0, 8 * this.filled[source]);
    // A disk that is nearly full may take a part of it: the next try says why.
    for (let done = 0; done < bytes.length;) done += writeSync(this.files[source].file, bytes, done);
    this.filled[source] = 0;
  }

  /** All of the replication is there, or, where it was stopped, is given up. */
  end(isWhole: boolean): void {
    this.files.forEach(({ path, file }, source) => {
      if (isWhole) this.write(source);
      closeSync(file);
      if (isWhole) renameSync(`${path}.part`, path);
      else unlinkSync(`${path}.part`);
    });
  }
}

function aboutOf(program: Program): Kept {
  const { warmUp, length, startOfDay, settings } = program.model;
  const ofDay = (time: string) => Number(time.slice(0, 2)) * 3600 + Number(time.slice(3)) * 60;
  return {
    sources: [...keptOf(program)],
    from: warmUp,
    to: length,
    startOfDay,
    open: settings.nights === "skipped" ? [ofDay(settings.opens), ofDay(settings.closes)] : null,
  };
}

/** What is kept of a run, and of which replications; undefined where nothing is. */
export async function keptIn(folder: string): Promise<KeptInRun | undefined> {
  const text = await readFile(join(folder, ABOUT), "utf8").catch(() => undefined);
  if (text === undefined) return undefined;
  const about = keptSchema.parse(JSON.parse(text));
  return { ...about, replications: await keptReplications(folder, about.sources.length - 1) };
}

/** Replications of which a source's file is there, in rising order. The last source's is the last to be named. */
async function keptReplications(folder: string, source: number): Promise<number[]> {
  const names = await readdir(join(folder, String(source))).catch(() => []);
  return names
    .flatMap((name) => /^(\d+)\.f64$/.exec(name)?.[1] ?? [])
    .map(Number)
    .sort((a, b) => a - b);
}

/** What was kept of a source in a replication, read from its file piece by piece. */
export const keptSeries = (folder: string, source: number, isLevel: boolean, replication: number): Series => ({
  isLevel,
  *chunks() {
    const file = openSync(keptFile(folder, source, replication), "r");
    const room = new Float64Array(AT_ONCE);
    const bytes = new Uint8Array(room.buffer);
    try {
      for (let at = 0; ;) {
        const read = readSync(file, bytes, 0, bytes.length, at);
        const whole = read - (read % 16);
        if (whole === 0) return;
        yield room.subarray(0, whole / 8);
        at += whole;
      }
    } finally {
      closeSync(file);
    }
  },
});
