import { MOST_MEMBERS } from "../../document/family.ts";
import type { Table } from "../../document/table.ts";
import { memberStream } from "./memberStream.ts";

export type Report = (code: string, field: string, message: string, hint: string) => void;

/** The streams of a member, by those of its family and its key. */
export const streamsOf = (streams: Readonly<Record<string, number>>, key: string): Record<string, number> =>
  Object.fromEntries(Object.entries(streams).map(([setting, stream]) => [setting, memberStream(stream, key)]));

/** By what the rows of a table are known: what stands in its key's column, or their numbers; each once. */
export function keysOf(table: Table, report: Report): string[] {
  const at = table.columns.findIndex(({ id }) => id === table.key);
  if (table.rows.length === 0)
    report("no-members", "family.table", `${table.name} has no rows, and so the family no members.`, "Give it rows.");
  if (table.rows.length > MOST_MEMBERS)
    report(
      "too-many-members",
      "family.table",
      `${table.name} has ${table.rows.length} rows; a family has at most ${MOST_MEMBERS} members.`,
      "Take a shorter table.",
    );
  const taken = new Set<string>();
  return table.rows.slice(0, MOST_MEMBERS).map((cells, row) => {
    const wanted = at < 0 ? String(row + 1) : (cells[at] ?? "").trim();
    const key = wanted === "" || taken.has(wanted) ? `row ${row + 1}` : wanted;
    if (key !== wanted)
      report(
        "duplicate-key",
        "family.table",
        wanted === ""
          ? `row ${row + 1} of ${table.name} has no ${table.columns[at].name}, by which its member would be known.`
          : `“${wanted}” stands twice in ${table.name}, and members are known by it.`,
        "Give each row a key of its own.",
      );
    taken.add(key);
    return key;
  });
}
