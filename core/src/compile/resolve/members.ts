import { type Meaning, PLAIN, rowType, within } from "../../expression/index.ts";
import type { MemberOf } from "../../model/model.ts";
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
