import { mkdirSync, writeFileSync } from "node:fs";
import { readFile } from "node:fs/promises";
import { join } from "node:path";
import { type Program, type Wrote, writtenTables } from "@busy-harbor/core";
import { writtenTablesSchema } from "@busy-harbor/core/contract";
import { CsvWriter } from "./csvWriter.ts";

/** Where the names of the tables are kept that steps of a run write. */
const NAMES = "tables.json";

/** The file of what steps wrote into a table, by its number, in one replication. */
export const rowFile = (folder: string, table: number, replication: number): string =>
  join(folder, String(table), `${replication}.csv`);

/** Writes the rows that steps write in a replication while it runs: a file for each table. */
export class RowsWriter {
  private readonly files: readonly CsvWriter[];
  readonly wrote: Wrote;

  /** Throws what the file system says where the files cannot be made. */
  constructor({ model }: Program, folder: string, replication: number) {
    const tables = writtenTables(model);
    mkdirSync(folder, { recursive: true });
    writeFileSync(join(folder, NAMES), JSON.stringify(tables.map(({ name }) => name)));
    this.files = tables.map(
      ({ head }, table) => new CsvWriter(rowFile(folder, table, replication), ["Replication", ...head]),
    );
    this.wrote = (table, at, values) => this.files[table].add([replication, ...tables[table].row(at, values)]);
  }

  end(isWhole: boolean): void {
    for (const file of this.files) file.end(isWhole);
  }
}

/** Names of the tables that steps of a run have written; none where they write none. */
export async function namesOfRows(folder: string): Promise<readonly string[]> {
  const text = await readFile(join(folder, NAMES), "utf8").catch(() => "[]");
  return writtenTablesSchema.parse(JSON.parse(text));
}
