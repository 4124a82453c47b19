import type { ElementBase } from "../../document/element.ts";
import { withRow } from "../../expression/index.ts";
import type { TableSource } from "../../expression/tables.ts";
import type { AtHand } from "../../model/atHand.ts";
import type { FieldOccurrence } from "../../settings/settingsOf.ts";
import type { Path, Problems } from "./problems.ts";
import type { Scopes } from "./scopes.ts";

/** The table of whose rows the members of all these resources are; undefined where there is not one for all. */
export function tableOfMembers(
  ids: readonly string[],
  elements: readonly ElementBase[],
  tables: readonly TableSource[],
): TableSource | undefined {
  const named = new Set(ids.map((id) => elements.find((one) => one.id === id)?.table ?? ""));
  const [only] = named;
  return named.size === 1 ? tables.find(({ id }) => id === only) : undefined;
}

/** What is told where a setting asks for members that have no rows. */
export const NO_ROWS = {
  code: "no-rows",
  message: "who is a row of the table of members, and these resources have none, or not the same.",
  hint: "Choose the table on the card of the crew.",
} as const;

/**
 * What may be named in a setting that knows the member it is asked of: `who`, the row that is `at` hand. Undefined
 * where it says something and no rows are there, which is told.
 */
export function knowingWho<S extends Scopes>(
  scopes: S,
  { key, field, text, holder, path: within }: FieldOccurrence,
  elements: readonly ElementBase[],
  tables: readonly TableSource[],
  at: AtHand,
  problems: Problems,
  where: { readonly id: string; readonly path: Path; readonly key?: string },
): S | undefined {
  if (!field.knowsWho || text.trim() === "") return scopes;
  const table = tableOfMembers((holder.anyOf ?? holder.crew ?? []) as string[], elements, tables);
  if (table) {
    const [withEntity, withoutEntity] = [scopes.withEntity, scopes.withoutEntity].map((scope) =>
      withRow(scope, table, () => at.at, "who"),
    );
    return { ...scopes, withEntity, withoutEntity };
  }
  const { id, path } = where;
  problems.add(
    NO_ROWS.code,
    [...path, ...within],
    { id, field: where.key ?? key, start: 0, end: text.length },
    `${field.label}: ${NO_ROWS.message}`,
    NO_ROWS.hint,
  );
  return undefined;
}
