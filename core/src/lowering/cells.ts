import { CELLS, cellsId, type TableSource } from "../expression/index.ts";
import { CHANGES } from "../model/sources.ts";
import type { Expressions } from "./expressions.ts";
import type { Replication } from "./replication.ts";

/** Cells that steps set begin each replication with what stands in the table. */
export function provideCells(tables: readonly TableSource[], expressions: Expressions, replication: Replication): void {
  const set = tables.flatMap(({ id, columns }) =>
    columns.filter(({ isSet }) => isSet).map((column) => ({ id, column, values: new Float64Array(column.values) })),
  );
  if (set.length === 0) return;
  const find = (table: string, column: string) => set.find((one) => one.id === table && one.column.id === column)!;
  expressions.provide(CELLS, {
    valuesOf: (table, column) => find(table, column).values,
    changed: (table, column) => expressions.part(CHANGES).teller(cellsId(table, column)),
  });
  replication.atStart(() => {
    for (const { column, values } of set) values.set(column.values);
  });
}
