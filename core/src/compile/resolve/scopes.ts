import type { DesignOf } from "../../document/design.ts";
import type { StudyOf } from "../../document/study.ts";
import {
  checkExpression,
  makeScope,
  type Meaning,
  nameKey,
  numberOf,
  PLAIN,
  rowKnown,
  rowType,
  type Scope,
  sameType,
  type TableSource,
  within,
  typeName,
} from "../../expression/index.ts";
import { attributeSource, CLOCK, entityAge, entityHandle, entityType } from "../../model/sources.ts";
import { TIME } from "../../quantity/index.ts";
import type { ElementAttribute, MemberOf, VariableModel } from "../../model/model.ts";
import { readElementAttributes } from "./elementAttributes.ts";
import { elementMeanings } from "./elementMeanings.ts";
import type { Unfolded } from "../families/unfold.ts";
import type { Problems } from "./problems.ts";
import type { ScopeOfCells } from "./tables.ts";
import { cellsSet, withCellsSet } from "./cellsSet.ts";
import { readVariables } from "./variables.ts";

/** Columns of what is kept of an entity's route: how many steps it has taken, and the row of the last. */
export const ROUTE_STEP = " step";
export const ROUTE_ROW = " row";

export interface Scopes {
  readonly withEntity: Scope;
  readonly withoutEntity: Scope;
  /** Column of each attribute, by its name's key. */
  readonly slots: ReadonlyMap<string, number>;
  readonly anyType?: boolean;
}

export interface ScopesWithTables extends Scopes {
  readonly tables: readonly TableSource[];
  readonly variables: readonly VariableModel[];
  readonly elementAttributes: readonly ElementAttribute[];
}

/** What may be named in this design's expressions. */
export function makeScopes(
  { study, document, ofStudy }: { readonly study: StudyOf; readonly document: DesignOf; readonly ofStudy: Problems },
  { design, members, families, typeRows }: Pick<Unfolded, "design" | "members" | "families" | "typeRows">,
  intern: (text: string) => number,
  problems: Problems,
  readAll: (scope: ScopeOfCells) => readonly TableSource[],
  /** Id of the table along which entities go, if they do. */
  route: string | undefined,
): ScopesWithTables {
  const known: { whole?: Pick<Scopes, "withEntity" | "withoutEntity"> } = {};
  const set = cellsSet(document);
  const tables = readAll((withEntity) => ({
    scope: withEntity
      ? (known.whole?.withEntity ?? declare())
      : (known.whole?.withoutEntity ?? makeScope(names, intern)),
    isWhole: known.whole !== undefined,
  })).map((table) => withCellsSet(table, set));
  const names = new Map<string, Meaning>([["clock", CLOCK]]);
  const rows = new Map<string, ReadonlyMap<string, Meaning>>();
  for (const table of tables) {
    rows.set(table.id, new Map(table.columns.map(({ name, type }) => [name, { type }])));
    names.set(table.name, meaningOf(table));
  }
  design.entityTypes.forEach((type, index) => names.set(type.name, { type: { kind: "entityType" }, constant: index }));
  const attributes = readElementAttributes(
    design,
    ({ id }) => knownAt(members.get(id), makeScope(names, intern), tables),
    problems,
  );
  for (const [name, meaning] of elementMeanings({ design, members, families }, tables, attributes.of))
    names.set(name, meaning);
  const variables = readVariables(
    { study, design: document, tables, scope: () => makeScope(names, intern) },
    (name, meaning) => names.set(name, meaning),
    ofStudy,
  );

  const entity = new Map<string, Meaning>([
    ["type", { type: { kind: "entityType" }, source: entityType }],
    ["age", { type: numberOf(TIME), source: entityAge }],
  ]);
  const slots = new Map<string, number>();
  const declare = (): Scope => makeScope(new Map([...names, ["entity", entityWith(entity)]]), intern);
  design.entityTypes.forEach((type, t) =>
    type.attributes.forEach((attribute, i) => {
      const key = nameKey(attribute.name);
      const slot = slots.get(key) ?? slots.size;
      const at = typeRows.get(type.id);
      const table = at && tables.find(({ id }) => id === at.table);
      const found = checkExpression(attribute.value, table ? within(declare(), rowKnown(table, at.row)) : declare());
      if (!found.ok) return; // reported where the attribute itself is checked
      const known = entity.get(attribute.name);
      if (known && !sameType(known.type, found.checked.type)) {
        problems.add(
          "attribute-type",
          ["entityTypes", t, "attributes", i],
          { id: type.id, field: `attribute ${attribute.name}` },
          `"${attribute.name}" is ${typeName(found.checked.type)} here, but ${typeName(known.type)} for another entity type.`,
          "Give it the same unit everywhere, or another name.",
        );
        return;
      }
      slots.set(key, slot);
      const { type: holds } = found.checked;
      const properties = holds.kind === "row" ? rows.get(holds.table.id) : undefined;
      if (!known) entity.set(attribute.name, { type: holds, source: attributeSource(slot), properties });
    }),
  );
  const along = tables.find(({ id }) => id === route);
  if (along) {
    knowRoute(along, slots, entity, rows);
    declareTaken(design, problems);
  }
  const whole = { withEntity: declare(), withoutEntity: makeScope(names, intern) };
  known.whole = whole;
  return { ...whole, slots, tables, variables, elementAttributes: attributes.all };
}

/** The entity at hand, of which these are read. */
const entityWith = (properties: ReadonlyMap<string, Meaning>): Meaning => ({
  type: { kind: "entity" },
  source: entityHandle,
  properties,
});

/** Entities that go along the rows of a table have a step and a row of it. */
function knowRoute(
  along: TableSource,
  slots: Map<string, number>,
  entity: Map<string, Meaning>,
  rows: ReadonlyMap<string, ReadonlyMap<string, Meaning>>,
): void {
  const [step, row] = [slots.size, slots.size + 1];
  slots.set(ROUTE_STEP, step).set(ROUTE_ROW, row);
  entity.set("step", { type: PLAIN, source: attributeSource(step) });
  entity.set("route", {
    type: { kind: "row", table: { id: along.id, name: along.name } },
    source: attributeSource(row),
    properties: rows.get(along.id),
  });
}

/** Names where a member of a family is made, if it is one: its number, and its row. */
function knownAt(member: MemberOf | undefined, scope: Scope, tables: readonly TableSource[]): Scope {
  if (!member) return scope;
  const { number, row, family } = member;
  const table = tables.find(({ id }) => id === family.family!.table);
  const known = new Map<string, Meaning>([["member", { type: PLAIN, constant: number }]]);
  if (row !== undefined && table) known.set("row", { type: rowType(table), constant: row });
  return within(scope, known);
}

function meaningOf(table: TableSource): Meaning {
  const lists = table.columns.map(({ name, type }) => [name, { type: { kind: "list", of: type } } as Meaning] as const);
  return { type: { kind: "table" }, table, properties: new Map(lists) };
}

/** Where entities go along a route, each has a step and a row of its own: attributes are called otherwise. */
function declareTaken(design: DesignOf, problems: Problems): void {
  design.entityTypes.forEach((type, t) =>
    type.attributes.forEach(({ name }, i) => {
      if (!["step", "route"].includes(nameKey(name))) return;
      problems.add(
        "attribute-type",
        ["entityTypes", t, "attributes", i],
        { id: type.id, field: `attribute ${name}` },
        `Entities go along a route, and so have entity.${name} already.`,
        "Give the attribute another name.",
      );
    }),
  );
}
