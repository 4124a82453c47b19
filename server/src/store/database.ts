import { mkdirSync } from "node:fs";
import { join } from "node:path";
import { Sequelize, Transaction } from "sequelize";
import { Umzug, SequelizeStorage } from "umzug";
import { migrations } from "./migrations.ts";
import { defineModels, type Models } from "./models.ts";

export interface Database {
  readonly sequelize: Sequelize;
  readonly models: Models;
  /** Runs writes in a transaction of their own, one after another: SQLite has one writer. */
  write<T>(work: (transaction: Transaction) => Promise<T>): Promise<T>;
  close(): Promise<void>;
}

/** Opens the database under `directory`, making and migrating it as needed. One file, write-ahead log, foreign keys on. */
export async function openDatabase(directory: string): Promise<Database> {
  mkdirSync(directory, { recursive: true });
  const sequelize = new Sequelize({ dialect: "sqlite", storage: join(directory, "harbor.sqlite"), logging: false, pool: { max: 1, min: 1, idle: 2 ** 31 - 1 } });
  await sequelize.query("PRAGMA journal_mode = WAL");
  await sequelize.query("PRAGMA synchronous = NORMAL");
  await sequelize.query("PRAGMA foreign_keys = ON");
  const umzug = new Umzug({
    migrations: migrations.map(({ name, up }) => ({ name, up: () => up(sequelize.getQueryInterface()) })),
    storage: new SequelizeStorage({ sequelize }),
    logger: undefined,
  });
  await umzug.up();
  let last: Promise<unknown> = Promise.resolve();
  return {
    sequelize,
    models: defineModels(sequelize),
    write(work) {
      const turn = last.then(() => sequelize.transaction({ type: Transaction.TYPES.IMMEDIATE }, work));
      last = turn.catch(() => undefined);
      return turn;
    },
    async close() {
      await last;
      await sequelize.close();
    },
  };
}
