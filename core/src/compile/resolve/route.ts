import type { DesignOf } from "../../document/design.ts";
import { type Table, tablesOf } from "../../document/table.ts";
import type { StudyOf } from "../../document/study.ts";
import type { ColumnSource, TableSource } from "../../expression/index.ts";
import { byLink, type Model, nodesAt, placesOnRoute, type RouteModel } from "../../model/model.ts";
import type { Problems } from "./problems.ts";
import { ROUTE_ROW, ROUTE_STEP, type ScopesWithTables } from "./scopes.ts";

/** Whether entities of a design go along a route anywhere. */
export const followsRoute = ({ elements }: DesignOf): boolean => elements.some(({ wayOut }) => wayOut === "route");

/** The table that entities go along, where there is one. */
export const routeTableOf = (tables: readonly Table[]): Table | undefined => tables.find(({ route }) => route);

const columnOf = ({ columns }: TableSource, kind: ColumnSource["type"]["kind"]): ColumnSource | undefined =>
  columns.find(({ type }) => type.kind === kind);

/**
 * The route of each entity type: the rows of the table that name it, in their order, each with the element where it
 * goes next. A table that names no types is the route of all.
 */
export function readRoute(
  study: StudyOf,
  design: DesignOf,
  scopes: ScopesWithTables,
  places: Pick<Model, "nodes" | "families">,
  problems: Problems,
): RouteModel | undefined {
  const { nodes } = places;
  if (!followsRoute(design)) return undefined;
  const table = routeTableOf(tablesOf(study.tables, design.tables));
  const source = table && scopes.tables.find(({ id }) => id === table.id);
  if (!source) {
    for (const { element, index } of nodes)
      if (element.wayOut === "route")
        problems.add(
          "no-route",
          ["elements", index, "wayOut"],
          { id: element.id, field: "wayOut" },
          `Entities leave ${element.name} along their route, and no table is one.`,
          "Tick “It is a route” beside a table whose rows say where each type goes next.",
        );
    return undefined;
  }
  const next = columnOf(source, "element");
  if (!next) {
    problems.add(
      "no-route",
      ["tables"],
      { id: source.id },
      `${source.name} is a route, and none of its columns says where entities go next.`,
      "Give it a column that holds elements.",
    );
    return undefined;
  }
  const types = columnOf(source, "entityType");
  const rows = design.entityTypes.map((_, type) =>
    Array.from({ length: source.rows }, (_, row) => row).filter((row) => !types || types.values[row] === type),
  );
  const route: RouteModel = {
    table: source,
    rows,
    next: next.values,
    stepSlot: scopes.slots.get(ROUTE_STEP)!,
    rowSlot: scopes.slots.get(ROUTE_ROW)!,
  };
  checkSteps(route, next, design, places, problems);
  checkEnds(route, places, problems);
  return route;
}

/** Every step can be taken: a link leads from each place of a route to the next. */
function checkSteps(
  { table, rows, next }: RouteModel,
  column: ColumnSource,
  design: DesignOf,
  places: Pick<Model, "nodes" | "families">,
  problems: Problems,
): void {
  const { nodes } = places;
  for (const [type, steps] of rows.entries())
    for (const [i, row] of steps.entries()) {
      const { name } = design.entityTypes[type];
      const tell = (message: string, hint: string) =>
        problems.add(
          "no-such-step",
          ["tables"],
          { id: table.id, field: `cell.${row}.${column.id}` },
          `${table.name}, row ${row + 1}: ${message}`,
          hint,
        );
      const to = nodesAt(places, next[row]);
      if (to.length === 0) {
        tell(`step ${i + 1} of ${name} leads nowhere.`, "Name an element.");
        continue;
      }
      const from = i > 0 ? nodesAt(places, next[steps[i - 1]]) : [];
      const lost = from.find(
        (at) => nodes[at].element.wayOut === "route" && !nodes[at].out.some((way) => to.includes(way.to)),
      );
      if (lost === undefined) continue;
      tell(
        `step ${i + 1} of ${name} goes from ${nodes[lost].element.name} to ${nodes[to[0]].element.name}, and no link leads there.`,
        "Draw that link.",
      );
    }
}

/** Who has come to the end of its route knows where to go: one link leads to a place that is on no route. */
function checkEnds(route: RouteModel, model: Pick<Model, "nodes" | "families">, problems: Problems): void {
  const { nodes } = model;
  const places = placesOnRoute({ ...model, route });
  for (const { element, index, out } of nodes) {
    const onward = element.wayOut === "route" ? out.filter((way) => !places.has(way.to)) : [];
    if (byLink(onward).length < 2) continue;
    const names = onward.map((way) => nodes[way.to].element.name).join(", ");
    problems.add(
      "no-such-step",
      ["elements", index, "wayOut"],
      { id: element.id, field: "wayOut" },
      `${element.name} has links to several places that are on no route (${names}), and who is done could take any.`,
      "Keep one of these links.",
    );
  }
}
