import type { Model } from "../model/model.ts";
import { type Cell, cellOf, columnHead } from "../model/cells.ts";

/** A table that steps write rows into, as it is written out; numbers are in SI units. */
export interface WrittenTable {
  readonly name: string;
  readonly head: readonly string[];
  /** The cells of a row, of values in the order of its columns, written at an instant in seconds from the start. */
  row(at: number, values: ArrayLike<number>): Cell[];
}

/** The tables that steps of a model write, in the order in which `wrote` of a session numbers them. */
export const writtenTables = (model: Model): WrittenTable[] =>
  (model.logic?.written ?? []).map(({ name, columns }) => ({
    name,
    head: ["Written at (s)", ...columns.map((column) => columnHead(column.name, column.type))],
    row: (at, values) => [at, ...columns.map(({ type }, i) => cellOf(model, values[i], type))],
  }));
