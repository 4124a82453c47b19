import { existsSync, mkdirSync, openSync, readSync, closeSync, statSync } from "node:fs";
import { dirname, join } from "node:path";
import { QueryTypes, Sequelize, Transaction } from "sequelize";
import { Umzug, SequelizeStorage } from "umzug";
import { StartProblem, startProblem } from "../start/startProblem.ts";
import { migrations } from "./migrations.ts";
import { defineModels, type Models } from "./models.ts";

export interface Database {
  readonly sequelize: Sequelize;
  readonly models: Models;
  /** Runs writes in a transaction of their own, one after another: SQLite has one writer. */
  write<T>(work: (transaction: Transaction) => Promise<T>): Promise<T>;
  close(): Promise<void>;
}

/** Makes the data folder where there is none; throws a `StartProblem` where it cannot be used. */
export function makeFolder(directory: string): void {
  try {
    makeWithParents(directory);
    if (!statSync(directory).isDirectory())
      throw new StartProblem(
        `${directory} is a file where a folder should be: move it elsewhere, or name another data folder in HARBOR_DATA.`,
      );
  } catch (error) {
    throw startProblem(error, directory);
  }
}

/** One folder after the other: where some may not be made at all, the way that makes them at once never ends. */
function makeWithParents(directory: string): void {
  if (existsSync(directory)) return;
  const parent = dirname(directory);
  if (parent !== directory) makeWithParents(parent);
  mkdirSync(directory);
}

/**
 * Opens the database under `directory`, making and migrating it as needed. One file, write-ahead log, foreign keys
 * on. Throws a `StartProblem` for what is no database, is another program's or a newer version's, or is cut off.
 */
export async function openDatabase(directory: string): Promise<Database> {
  const file = join(directory, "harbor.sqlite");
  let sequelize: Sequelize | undefined;
  try {
    checkWhole(file);
    sequelize = new Sequelize({
      dialect: "sqlite",
      storage: file,
      logging: false,
      pool: { max: 1, min: 1, idle: 2 ** 31 - 1 },
    });
    await checkOwn(sequelize, file);
    await sequelize.query("PRAGMA journal_mode = WAL");
    await sequelize.query("PRAGMA synchronous = NORMAL");
    await sequelize.query("PRAGMA foreign_keys = ON");
    const query = sequelize.getQueryInterface();
    const umzug = new Umzug({
      migrations: migrations.map(({ name, up }) => ({ name, up: () => up(query) })),
      storage: new SequelizeStorage({ sequelize }),
      logger: undefined,
    });
    await umzug.up();
  } catch (error) {
    await sequelize?.close().catch(() => undefined);
    throw startProblem(error, file);
  }
  const opened = sequelize;
  let last: Promise<unknown> = Promise.resolve();
  return {
    sequelize: opened,
    models: defineModels(opened),
    write(work) {
      const turn = last.then(() => opened.transaction({ type: Transaction.TYPES.IMMEDIATE }, work));
      last = turn.catch(() => undefined);
      return turn;
    },
    async close() {
      await last;
      // So that the file is whole by itself; what the disk does not take stays in the log beside it.
      await opened.query("PRAGMA wal_checkpoint(TRUNCATE)").catch(() => undefined);
      await opened.close();
    },
  };
}

/**
 * A file that is shorter than its own head says is cut off (SQLite's file format, section 1.3); one with a log beside
 * it may grow yet.
 */
function checkWhole(file: string): void {
  const log = `${file}-wal`;
  if (!existsSync(file) || (existsSync(log) && statSync(log).size > 0)) return;
  const { size } = statSync(file);
  const head = Buffer.alloc(100);
  const handle = openSync(file, "r");
  const read = readSync(handle, head, 0, 100, 0);
  closeSync(handle);
  if (size === 0) return;
  if (read < 100 || !head.toString("latin1").startsWith("SQLite format 3")) throw new Error("SQLITE_NOTADB");
  const page = head.readUInt16BE(16) === 1 ? 65_536 : head.readUInt16BE(16);
  if (head.readUInt32BE(24) === head.readUInt32BE(92) && size < page * head.readUInt32BE(28)) {
    throw new StartProblem(
      `${file} is cut off: it has ${size} of ${page * head.readUInt32BE(28)} bytes. Put back a copy of it, or name another data folder in HARBOR_DATA.`,
    );
  }
}

/** Another program's database is left alone, and so is one that a newer version has changed. */
async function checkOwn(sequelize: Sequelize, file: string): Promise<void> {
  const tables = (
    await sequelize.query<{ name: string }>(
      "SELECT name FROM sqlite_master WHERE type = 'table' AND name NOT LIKE 'sqlite_%'",
      { type: QueryTypes.SELECT },
    )
  ).map(({ name }) => name);
  if (tables.length === 0) return;
  if (!tables.includes("SequelizeMeta"))
    throw new StartProblem(
      `${file} is another program's database: move it elsewhere, or name another data folder in HARBOR_DATA.`,
    );
  const done = await sequelize.query<{ name: string }>("SELECT name FROM SequelizeMeta", { type: QueryTypes.SELECT });
  const unknown = done.find(({ name }) => !migrations.some((m) => m.name === name));
  if (unknown)
    throw new StartProblem(
      `${file} was changed by a newer Busy Harbor (${unknown.name}): update this one, or name another data folder in HARBOR_DATA.`,
    );
}
