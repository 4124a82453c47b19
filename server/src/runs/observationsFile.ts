import { closeSync, mkdirSync, openSync, renameSync, writeSync } from "node:fs";
import { join } from "node:path";
import { type Observe, observationTable, type Program } from "@busy-harbor/core";
import Papa from "papaparse";

/** Rows that are gathered before they are written. */
const AT_ONCE = 2000;

/** The file of one replication's observations, which stands there once all of them are in it. */
export const observationsFile = (folder: string, replication: number): string => join(folder, `${replication}.csv`);

/** Writes what is observed in a replication while it runs: a row for each entity that leaves. */
export class ObservationsWriter {
  private readonly file: number;
  private readonly path: string;
  private rows: (string | number)[][] = [];
  private readonly rowOf: ReturnType<typeof observationTable>["row"];

  /** Throws what the file system says where the file cannot be made. */
  constructor(
    { model }: Program,
    folder: string,
    private readonly replication: number,
  ) {
    mkdirSync(folder, { recursive: true });
    this.path = observationsFile(folder, replication);
    this.file = openSync(`${this.path}.part`, "w");
    const { head, row } = observationTable(model);
    this.rows.push(["Replication", ...head]);
    this.rowOf = row;
  }

  readonly observe: Observe = (departed) => {
    this.rows.push([this.replication, ...this.rowOf(departed)]);
    if (this.rows.length >= AT_ONCE) this.write();
  };

  private write(): void {
    if (this.rows.length > 0) writeSync(this.file, `${Papa.unparse(this.rows, { newline: "\r\n" })}\r\n`);
    this.rows = [];
  }

  /** All of the replication has been observed, or, where it was stopped, is given up. */
  end(isWhole: boolean): void {
    if (isWhole) this.write();
    closeSync(this.file);
    if (isWhole) renameSync(`${this.path}.part`, this.path);
  }
}
