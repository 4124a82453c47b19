import type { DesignOf } from "../../document/design.ts";
import { ENTITY_COLOURS, ENTITY_LOOKS, type EntityType } from "../../document/entityType.ts";
import type { Table } from "../../document/table.ts";
import { nameKey } from "../../expression/index.ts";
import type { TypeRow } from "../../model/model.ts";
import type { FamilyProblem } from "./problem.ts";
import { keysOf, streamsOf } from "./keys.ts";

/** Entity types with one for every row, where a type comes from a table. */
export interface UnfoldedTypes {
  readonly entityTypes: readonly EntityType[];
  /** By the id of a type that is a row. */
  readonly rows: ReadonlyMap<string, TypeRow>;
  /** Place in the document of each. */
  readonly at: readonly number[];
}

export const hasTypeRows = ({ entityTypes }: DesignOf): boolean => entityTypes.some((t) => t.family !== undefined);

export function unfoldTypes(
  design: DesignOf,
  tables: readonly Table[],
  report: (problem: FamilyProblem) => void,
): UnfoldedTypes {
  const entityTypes: EntityType[] = [];
  const rows = new Map<string, TypeRow>();
  const at: number[] = [];
  const taken = new Set([...design.elements, ...design.entityTypes].map(({ name }) => nameKey(name)));
  design.entityTypes.forEach((type, place) => {
    const { family } = type;
    if (!family) {
      entityTypes.push(type);
      at.push(place);
      return;
    }
    const tell = (code: string, field: string, message: string, hint: string) =>
      report({ code, of: type, list: "entityTypes", field, message, hint });
    const table = tables.find(({ id }) => id === family.table);
    if (!table) {
      tell("missing-table", "family", "the table of its rows does not exist.", "Choose another.");
      return;
    }
    const cellOf = (row: number, column: string): string => {
      const c = table.columns.findIndex(({ id }) => id === column);
      return c < 0 ? "" : (table.rows[row][c] || table.columns[c].default).trim();
    };
    keysOf(table, tell).forEach((key, row) => {
      if (taken.has(nameKey(key)))
        tell(
          "duplicate-name",
          "family",
          `row ${row + 1} of ${table.name}: “${key}” reads the same as another name of this design.`,
          "Choose another key, so that expressions can tell them apart.",
        );
      taken.add(nameKey(key));
      const [look, colour] = [cellOf(row, family.look), cellOf(row, family.colour)];
      const known = ENTITY_LOOKS.find((l) => nameKey(l) === nameKey(look));
      if (look !== "" && !known)
        tell(
          "bad-cell",
          "family.look",
          `row ${row + 1} of ${table.name}: “${look}” is no look.`,
          "Choose one of those there are.",
        );
      const isColour = /^#[0-9a-f]{6}$/i.test(colour);
      if (colour !== "" && !isColour)
        tell(
          "bad-cell",
          "family.colour",
          `row ${row + 1} of ${table.name}: “${colour}” is no colour.`,
          "Write it as #0B6E8A.",
        );
      const made: EntityType = {
        ...type,
        id: `${type.id}/${key}`,
        name: key,
        look: known ?? type.look,
        colour: isColour ? colour : family.colour === "" ? ENTITY_COLOURS[row % ENTITY_COLOURS.length] : type.colour,
        streams: streamsOf(type.streams, key),
        family: undefined,
      };
      entityTypes.push(made);
      at.push(place);
      rows.set(made.id, { type: type.id, table: table.id, row });
    });
  });
  return { entityTypes, rows, at };
}
