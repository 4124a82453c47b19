import { mkdirSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { type Program, type Wrote, writtenTables } from "@busy-harbor/core";
import Papa from "papaparse";

/** Rows that steps write, as CSV files of a folder: one for each table and replication. */
export class RowFiles {
  private readonly tables: ReturnType<typeof writtenTables>;
  private rows: (string | number)[][][] = [];
  private replication = 0;

  constructor(
    { model }: Program,
    private readonly folder: string,
  ) {
    this.tables = writtenTables(model);
    mkdirSync(folder, { recursive: true });
  }

  /** A replication begins: gives what is told of its rows. */
  begin(replication: number): Wrote {
    this.end();
    this.replication = replication;
    this.rows = this.tables.map(({ head }) => [[...head]]);
    return (table, at, values) => this.rows[table].push(this.tables[table].row(at, values));
  }

  /** Writes what is left of the last replication. */
  end(): void {
    this.rows.forEach((rows, table) => {
      // Names of tables may hold what names of files may not.
      const name = this.tables[table].name.replace(/[\\/:*?"<>|]/g, "_");
      writeFileSync(
        join(this.folder, `${name}, ${this.replication}.csv`),
        `${Papa.unparse(rows, { newline: "\r\n" })}\r\n`,
      );
    });
    this.rows = [];
  }
}
