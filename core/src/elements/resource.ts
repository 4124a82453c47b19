import type { Node } from "../model/model.ts";
import { count as measureCount } from "../measures/spec.ts";
import { settings } from "../settings/setting.ts";
import { BREAKDOWNS } from "./breakdowns.ts";
import { elementKind, type Phrase, type ReadModel } from "./kind.ts";
import {
  breakUnits,
  type Pool,
  POOL_EVENTS,
  POOL_MEASURES,
  POOL_PROPERTIES,
  poolSettable,
  ResourcePool,
  poolSettings,
} from "./resourcePool.ts";
import { keepsHours, MEMBER_HOURS, ownHours } from "./memberHours.ts";
import { UNIT, type UnitState } from "../lowering/units.ts";
import {
  MEMBERS,
  tellMembers,
  WALKING,
  WALKING_MEASURES,
  walkingStates,
  walkingWords,
  walkMembers,
} from "./walking.ts";
import { listed, nameOfRow, strong, tableName } from "./words.ts";

const common = {
  group: "resources",
  hasWayIn: false,
  hasWayOut: false,
  units: "count",
  counts: "asked for",
  quiet: true,
  properties: POOL_PROPERTIES,
  settable: poolSettable,
  takesTime: () => true,
} as const;

/** Who needs it, and when it is there, in words. */
function useWords({ element, member }: Node<Pool>, { nodes, study, logic }: ReadModel): Phrase[] {
  const users = nodes.filter(({ resources }) => resources.includes(element.id)).map(({ element: e }) => e.name);
  for (const { element: from, out } of nodes)
    for (const { link, to } of out)
      if (link.kind === "escorted" && link.by === element.id) users.push(`${from.name} to ${nodes[to].element.name}`);
  for (const id of member ? [element.id, member.family.id] : [element.id])
    users.push(...(logic?.namedBy.get(id) ?? []));
  const own = ownHours(element);
  return [
    ...(users.length > 0 ? [" Needed by ", ...listed(users), "; "] : [" Needed by nothing yet; "]),
    element.order === "first asked" ? "who asked first is served first" : "who asked last is served first",
    element.preempt ? ", and higher priority takes them away from work of lower." : ".",
    ...(own
      ? [" Each is there by ", strong(own), `; ${element.atBell}.`]
      : element.calendar
        ? [
            " Hours: ",
            strong(study.calendars.find((c) => c.id === element.calendar)?.name ?? "no calendar yet"),
            `; ${element.atBell}.`,
          ]
        : []),
  ];
}

const STATES: readonly UnitState[] = [UNIT.busy, UNIT.down, UNIT.offShift, UNIT.idle];

export const crew = elementKind({
  ...common,
  kind: "crew",
  label: "Crew",
  plural: "Crews",
  summary: "People that work needs.",
  unitLooks: "person",
  states: (element) => [
    UNIT.idle,
    UNIT.busy,
    ...walkingStates(element),
    ...(keepsHours(element) ? [UNIT.offShift] : []),
  ],
  settings: settings({ ...poolSettings("members"), ...MEMBER_HOURS, ...MEMBERS, ...WALKING }),
  check({ element, settings: of }, report, { elements }) {
    if (element.walks === "over ways" && element.way === "quickest" && of.get("speed")?.constant === undefined)
      report(
        "not-fixed",
        "speed",
        "which way is the quickest is known at a fixed speed alone.",
        "Give a fixed speed, or take the shortest way.",
      );
    if (element.walks !== "no" && element.idle === "post" && !elements.some(({ id }) => id === element.post))
      report(
        "missing-element",
        "post",
        "It is not said at which element its post is.",
        "Choose one, or have them stay.",
      );
  },
  sections: [
    { title: "People", of: ["count", "table", "chosen", "worth", "order", "preempt"] },
    { title: "Walking", of: ["walks", "way", "homeAt", "speed", "next", "idle", "post"], folded: true },
    { title: "Hours", of: ["hoursAt", "calendar", "atBell"], folded: true },
    { title: "Cost", of: ["costBusy", "costOpen"], folded: true },
  ],
  events: POOL_EVENTS,
  measures: { ...POOL_MEASURES, ...WALKING_MEASURES },
  prepare(node, lowering, measured) {
    const pool = new ResourcePool(node, lowering);
    lowering.resources.add(pool);
    pool.measures(node, lowering, measured, [...STATES.filter((s) => s !== UNIT.down), ...walkingStates(node.element)]);
    tellMembers(node, lowering, pool);
    const { rows } = node;
    if (rows && rows.table.rows > 0) pool.tellApart(lowering, measured, (unit) => nameOfRow(rows.table, unit));
    walkMembers(node, lowering, pool, measured);
    return { readers: pool.readers, writers: pool.writers(node, lowering), lower: () => undefined };
  },
  readBack: (node, model) => [
    ...(node.element.table === ""
      ? [strong(node.element.count), node.element.count === "1" ? " member." : " members."]
      : ["As many members as ", strong(tableName(model.study, node.element.table)), " has rows."]),
    ...useWords(node, model),
    ...walkingWords(node.element, model),
  ],
});

export const equipment = elementKind({
  ...common,
  kind: "equipment",
  label: "Equipment",
  plural: "Equipment",
  summary: "Tools or bays that work needs.",
  unitLooks: "piece",
  states: ({ calendar, breakdowns }) => [
    UNIT.idle,
    UNIT.busy,
    ...(breakdowns.length > 0 ? [UNIT.down] : []),
    ...(calendar === "" ? [] : [UNIT.offShift]),
  ],
  settings: settings({ ...poolSettings("pieces"), ...BREAKDOWNS }),
  sections: [
    { title: "Pieces", of: ["count", "order", "preempt"] },
    { title: "Hours", of: ["calendar", "atBell"], folded: true },
    { title: "Breakdowns", of: ["breakdowns"], folded: true },
    { title: "Cost", of: ["costBusy", "costOpen"], folded: true },
  ],
  events: {
    ...POOL_EVENTS,
    "breaks down": { label: "A unit breaks down", of: "element" },
    "is repaired": { label: "A unit is repaired", of: "element" },
  },
  measures: {
    ...POOL_MEASURES,
    breakdowns: measureCount("Breakdowns", "Breakdowns of its units.", { merge: "sum", better: "less" }),
  },
  prepare(node, lowering, measured) {
    const pool = new ResourcePool(node, lowering);
    lowering.resources.add(pool);
    pool.measures(node, lowering, measured, STATES);
    const broke = lowering.meters.counter();
    if (node.element.breakdowns.length > 0) measured.add("breakdowns", () => broke.n);
    return {
      readers: pool.readers,
      writers: pool.writers(node, lowering),
      lower: () => breakUnits(node, lowering, pool, broke),
    };
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
