import { Part } from "./running.ts";
import type { Checked } from "./term.ts";
import type { ValueType } from "./types.ts";

/** A column of a table, as expressions read it. */
export interface ColumnSource {
  readonly id: string;
  readonly name: string;
  readonly type: ValueType;
  /** By row, in SI; a text by its interned number, an element or entity type by its index; NaN where there is none. */
  readonly values: Float64Array;
  /** Steps set its cells: their values are those of the running model. */
  readonly isSet?: boolean;
  /** By row, where the column holds expressions, each checked with the names of where it is read. */
  readonly expressions?: (withEntity: boolean) => readonly (Checked | undefined)[];
}

/** A table, as expressions read it. Rows count from 0 here, and from 1 where people read. */
export interface TableSource {
  readonly id: string;
  readonly name: string;
  readonly rows: number;
  /** What its rows are found by; undefined where that is their number. */
  readonly key: ColumnSource | undefined;
  readonly columns: readonly ColumnSource[];
  /** The row of a key, or of a number from 1; -1 where there is none. */
  rowOf(key: number): number;
  /** A key in words. */
  say(key: number): string;
  /** A matrix: the column of a key. */
  readonly matrix?: { readonly keyType: ValueType; readonly type: ValueType; columnOf(key: number): number };
}

/** Cells that steps set, of a running model: of a column of a table, by row. */
export const CELLS = new Part<{
  valuesOf(table: string, column: string): Float64Array;
  changed(table: string, column: string): (() => void) | undefined;
}>("cells");

/** By what those who follow a column that is set are told. */
export const cellsId = (table: string, column: string): string => `cells of ${table} ${column}`;
