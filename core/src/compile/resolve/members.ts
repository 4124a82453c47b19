import { type Meaning, PLAIN, rowKnown, rowType, within } from "../../expression/index.ts";
import type { MemberOf, TypeRow } from "../../model/model.ts";
import type { ScopesWithTables } from "./scopes.ts";

/** Names where a member of a family is at hand: its number is `member`, and its row of the family's table `row`. */
export function knowingMember<S extends ScopesWithTables>(scopes: S, { number, row, family }: MemberOf): S {
  const names = new Map<string, Meaning>([["member", { type: PLAIN, constant: number }]]);
  const table = scopes.tables.find(({ id }) => id === family.family!.table);
  if (row !== undefined && table) names.set("row", { type: rowType(table), constant: row });
  return {
    ...scopes,
    withEntity: within(scopes.withEntity, names),
    withoutEntity: within(scopes.withoutEntity, names),
  };
}

/** Names where an entity type that is a row of a table is made: its `row`. */
export function knowingTypeRow<S extends ScopesWithTables>(scopes: S, { table: id, row }: TypeRow): S {
  const table = scopes.tables.find((t) => t.id === id);
  if (!table) return scopes;
  const names = rowKnown(table, row);
  return {
    ...scopes,
    withEntity: within(scopes.withEntity, names),
    withoutEntity: within(scopes.withoutEntity, names),
  };
}
