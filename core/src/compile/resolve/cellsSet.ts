import type { DesignOf } from "../../document/design.ts";
import { everyStep } from "../../document/logic.ts";
import { nameKey, type TableSource } from "../../expression/index.ts";

/** Columns whose cells steps of a design set, by the names of table and column. */
export function cellsSet({ procedures = [], rules = [] }: DesignOf): ReadonlySet<string> {
  const found = new Set<string>();
  for (const { steps } of [...procedures, ...rules])
    for (const step of everyStep(steps)) {
      const { values, into } = step as { values?: readonly { readonly what?: string }[]; into?: string };
      for (const text of [into, ...(values ?? []).map(({ what }) => what)]) {
        const [, table, column] = /^([^[]+)\[.*\]\s*\.([^.\]]+)$/s.exec(text ?? "") ?? [];
        if (column !== undefined) found.add(`${nameKey(table)} ${nameKey(column)}`);
      }
    }
  return found;
}

/** A table of which some columns are set: those are not known beforehand. */
export function withCellsSet(table: TableSource, set: ReadonlySet<string>): TableSource {
  const isSet = (column: TableSource["columns"][number]) => set.has(`${nameKey(table.name)} ${nameKey(column.name)}`);
  if (set.size === 0 || !table.columns.some(isSet)) return table;
  const columns = table.columns.map((column) =>
    isSet(column) ? (Object.create(column, { isSet: { value: true } }) as typeof column) : column,
  );
  return Object.create(table, { columns: { value: columns } }) as TableSource;
}
