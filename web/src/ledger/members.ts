import {
  type Design,
  type Element,
  type MemberOf,
  nameKey,
  type Study,
  type Table,
  type Unfolded,
} from "@busy-harbor/core";
import type { Item } from "./sheet.ts";

/** Rows with the members of each family below it. */
export function withMembers(rows: readonly Item[], { design, members }: Unfolded<Design>): Item[] {
  if (members.size === 0) return [...rows];
  return rows.flatMap((row): Item[] =>
    "family" in row && row.family
      ? [row, ...design.elements.filter((e) => members.get(e.id)?.family.id === row.id)]
      : [row],
  );
}

/** The column of a family's table that a setting of its members is, where it is no more than that. */
function columnRead(family: Element, setting: string, table: Table): number {
  const text = (family as unknown as Readonly<Record<string, unknown>>)[setting];
  const named = typeof text === "string" ? /^\s*row\s*\.\s*([\p{L}\p{N}]+)\s*$/u.exec(text)?.[1] : undefined;
  if (named !== undefined) return table.columns.findIndex((c) => nameKey(c.name) === nameKey(named));
  const id = family.family?.columns[setting];
  return id === undefined ? -1 : table.columns.findIndex((c) => c.id === id);
}

const tableOf = ({ family }: MemberOf, tables: readonly Table[]): Table | undefined =>
  tables.find(({ id }) => id === family.family?.table);

/** What a cell of the table says of a setting of a member; undefined where all members share the setting. */
export function cellOfMember(member: MemberOf, setting: string, tables: readonly Table[]): string | undefined {
  const table = tableOf(member, tables);
  if (!table || member.row === undefined) return undefined;
  const at = columnRead(member.family as Element, setting, table);
  if (at < 0) return undefined;
  const { default: empty, unit } = table.columns[at];
  const text = table.rows[member.row][at] || empty;
  return unit && /^[\d.]+$/.test(text) ? `${text} ${unit}` : text;
}

/** Puts a text into the cell of a draft's table that a member has a setting from; returns why it cannot. */
export function writeMember(draft: Study, designId: string, member: MemberOf, setting: string, text: string) {
  const design = draft.designs.find(({ id }) => id === designId)!;
  const family = member.family as Element;
  const table = tableOf(member, design.tables) ?? tableOf(member, draft.tables);
  const at = table ? columnRead(family, setting, table) : -1;
  if (setting === "name") return `Members are called by ${table?.key ? "the key of their row" : "their number"}.`;
  if (!table || member.row === undefined || at < 0)
    return `All members of ${family.name} share this: change it in the row of ${family.name}.`;
  const row = table.rows[member.row];
  while (row.length <= at) row.push("");
  row[at] = text.trim();
  return undefined;
}
