import type { ElementOf } from "../document/schema.ts";
import type { Model, Node } from "../model/model.ts";
import { NUMBER } from "../quantity/index.ts";
import { BREAKDOWN_LIST } from "./breakdowns.ts";
import { costField, countField } from "./fields.ts";
import { elementKind, type Phrase } from "./kind.ts";
import { breakUnits, POOL_PROPERTIES, ResourcePool } from "./resourcePool.ts";
import { UNIT, type UnitState } from "./units.ts";
import { listed, strong } from "./words.ts";

type Pool = ElementOf<"crew"> | ElementOf<"equipment">;

/** Most units of one resource. */
const MOST_UNITS = 10_000;

const common = {
  group: "resources",
  hasWayIn: false,
  hasWayOut: false,
  properties: POOL_PROPERTIES,
  takesTime: () => true,
} as const;

const fields = (them: string) => [
  countField("count", "How many", `How many ${them} there are.`, [1, MOST_UNITS], { fixed: true }),
  costField("costBusy", "Cost of work", "For time in use, such as 30 money/h for each.", "time"),
  costField("costOpen", "Cost on shift", "For time on shift, in use or not, for each.", "time"),
];

/** Who needs it, and when it is there, in words. */
function useWords({ element }: Node<Pool>, { nodes, study }: Pick<Model, "nodes" | "study">): Phrase[] {
  const users = nodes.filter(({ element: e }) => usesResource(e, element.id)).map(({ element: e }) => e.name);
  return [
    ...(users.length > 0 ? [" Needed by ", ...listed(users), "; "] : [" Needed by nothing yet; "]),
    element.order === "first asked" ? "who asked first is served first" : "who asked last is served first",
    element.preempt ? ", and higher priority takes them away from work of lower." : ".",
    ...(element.calendar
      ? [
          " Hours: ",
          strong(study.calendars.find((c) => c.id === element.calendar)?.name ?? "no calendar yet"),
          `; ${element.atBell}.`,
        ]
      : []),
  ];
}

/** Whether work or repairs at an element may claim a resource. */
export function usesResource(element: Model["nodes"][number]["element"], id: string): boolean {
  const needs = element.kind === "station" ? element.needs : [];
  const breakdowns = element.kind === "station" || element.kind === "equipment" ? element.breakdowns : [];
  return [...needs, ...breakdowns].some(({ anyOf }) => anyOf.includes(id));
}

const STATES: readonly UnitState[] = [UNIT.busy, UNIT.down, UNIT.offShift, UNIT.idle];

export const crew = elementKind({
  ...common,
  kind: "crew",
  label: "Crew",
  plural: "Crews",
  summary: "People that work needs.",
  fields: fields("members"),
  prepare(node, lowering) {
    const pool = new ResourcePool(node, lowering);
    lowering.addPool(pool);
    pool.measures(
      node,
      lowering,
      STATES.filter((s) => s !== UNIT.down),
    );
    return { readers: pool.readers, lower: () => undefined };
  },
  readBack: (node, model) => [
    strong(node.element.count),
    node.element.count === "1" ? " member." : " members.",
    ...useWords(node, model),
  ],
});

export const equipment = elementKind({
  ...common,
  kind: "equipment",
  label: "Equipment",
  plural: "Equipment",
  summary: "Tools or bays that work needs.",
  fields: fields("pieces"),
  lists: [BREAKDOWN_LIST],
  prepare(node, lowering) {
    const pool = new ResourcePool(node, lowering);
    lowering.addPool(pool);
    pool.measures(node, lowering, STATES);
    const broke = lowering.counter();
    if (node.element.breakdowns.length > 0)
      lowering.measuresOf(node.element, "equipment")("breakdowns", "Breakdowns", NUMBER, () => broke.n);
    return { readers: pool.readers, lower: () => breakUnits(node, lowering, pool, broke) };
  },
  readBack: (node, model) => [
    strong(node.element.count),
    node.element.count === "1" ? " piece." : " pieces.",
    ...useWords(node, model),
    ...node.element.breakdowns.flatMap(({ clock, every, jobs, repair }): Phrase[] => [
      " Each breaks down every ",
      strong(clock === "jobs" ? `${jobs} uses` : every),
      clock === "busy time" ? " of use" : "",
      " for ",
      strong(repair),
      ".",
    ]),
  ],
});
