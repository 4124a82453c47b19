import { closeSync, mkdirSync, openSync, renameSync, writeSync } from "node:fs";
import { dirname } from "node:path";
import Papa from "papaparse";

type Row = readonly (string | number)[];

/** Rows that are gathered before they are written. */
const AT_ONCE = 2000;

/** A file of one replication's rows, written while it runs, which stands there once all of them are in it. */
export class CsvWriter {
  private readonly file: number;
  private rows: Row[];

  /** Throws what the file system says where the file cannot be made. */
  constructor(
    private readonly path: string,
    head: Row,
  ) {
    mkdirSync(dirname(path), { recursive: true });
    this.file = openSync(`${path}.part`, "w");
    this.rows = [head];
  }

  add(row: Row): void {
    this.rows.push(row);
    if (this.rows.length >= AT_ONCE) this.write();
  }

  private write(): void {
    if (this.rows.length > 0) writeSync(this.file, `${Papa.unparse(this.rows as Row[], { newline: "\r\n" })}\r\n`);
    this.rows = [];
  }

  /** All of the replication is there, or, where it was stopped, is given up. */
  end(isWhole: boolean): void {
    if (isWhole) this.write();
    closeSync(this.file);
    if (isWhole) renameSync(`${this.path}.part`, this.path);
  }
}
