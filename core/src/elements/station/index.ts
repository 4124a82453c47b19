import type { DesignOf } from "../../document/design.ts";
import type { ElementBase } from "../../document/element.ts";
import type { Model, Node } from "../../model/model.ts";
import { checkInitial, initialTypes } from "../initial.ts";
import { SHIFT_EVENTS } from "../hours.ts";
import { elementKind, type Phrase, type Report } from "../kind.ts";
import { isSet } from "../setWhileRunning.ts";
import { LINE_EVENTS, orderWords, turnedAwayWords, turnsAway } from "../line.ts";
import { UNIT } from "../../lowering/units.ts";
import { fromWhere, listed, strong, whereTo } from "../words.ts";
import { prepareFull } from "./full.ts";
import { preparePlain } from "./plain.ts";
import { roomInLine } from "./room.ts";
import { type Station, STATION, STATION_MEASURES, STATION_PROPERTIES } from "./settings.ts";

/** Most slots of a station that are kept one by one. */
const MOST_SLOTS = 10_000;

/** Works on entities in its slots; those that find no free slot stand in its own line, as far as there is room. */
export const station = elementKind({
  kind: "station",
  label: "Station",
  plural: "Stations",
  summary: "Works on entities, a few at once.",
  group: "flow",
  hasWayIn: true,
  hasWayOut: true,
  isWork: true,
  hasLine: true,
  common: true,
  units: "capacity",
  counts: "in line",
  quiet: true,
  settings: STATION,
  sections: [
    { title: "Work", of: ["capacity", "time", "room", "whenFull"] },
    { title: "Order and patience of its line", of: ["order", "rank", "balk", "patience"], folded: true },
    { title: "Hours", of: ["calendar", "atBell"], folded: true },
    {
      title: "Setup and teardown",
      of: ["setupWhen", "setupBy", "setup", "changeovers", "teardown"],
      folded: true,
    },
    { title: "Resources", of: ["needs", "priority", "keepResources"], folded: true },
    { title: "Breakdowns", of: ["breakdowns", "onBreakdown"], folded: true },
    { title: "Batches", of: ["batchLeast", "batchMost", "batchWait"], folded: true },
    { title: "Rework", of: ["rework"], folded: true },
    { title: "At the start", of: ["initial"], folded: true },
    { title: "Cost", of: ["costBusy", "costOpen", "costEach"], folded: true },
  ],
  properties: STATION_PROPERTIES,
  settable: ({ calendar, room }) => [
    "capacity",
    ...(calendar === "" ? [] : (["keepsHours"] as const)),
    ...(/^(auto|no limit)$/.test(room) ? [] : (["queue.room"] as const)),
  ],
  events: {
    ...LINE_EVENTS,
    "setup starts": { label: "Setup starts for an entity, or the first of a batch", of: "entity" },
    "work starts": { label: "Work starts on an entity, or the first of a batch", of: "entity" },
    "work ends": { label: "Work ends on an entity, or the first of a batch", of: "entity" },
    "breaks down": { label: "It breaks down", of: "element" },
    "is repaired": { label: "It is repaired", of: "element" },
    ...SHIFT_EVENTS,
  },
  measures: STATION_MEASURES,
  states: ({ setup, setupWhen, teardown, needs, breakdowns, calendar }) => [
    UNIT.idle,
    ...(setup !== "" || setupWhen === "on change" || teardown !== "" ? [UNIT.settingUp] : []),
    UNIT.busy,
    ...(needs.length > 0 ? [UNIT.needing] : []),
    UNIT.blocked,
    ...(breakdowns.length > 0 ? [UNIT.down] : []),
    ...(calendar === "" ? [] : [UNIT.offShift]),
  ],
  aside: { "turned away": turnsAway, scrapped: ({ onBreakdown }) => onBreakdown === "scrap" },

  check({ element, settings }, report, design) {
    checkSlots({ element, settings }, report);
    checkChangeovers({ element, settings }, report);
    checkInitial(element, report, design);
    checkNeeds({ element, settings }, report, design);
  },

  bears: initialTypes,

  prepare: (node, lowering, measured) =>
    (isPlain(node) && !isSet(lowering, "capacity") ? preparePlain : prepareFull)(node, lowering, measured),

  readBack: (node, model) => [
    "Takes entities from ",
    ...fromWhere(node, model.nodes),
    ...orderWords(node.element),
    ". ",
    strong(node.element.capacity),
    node.element.batchMost === "1" ? " at once, " : " batches at once, ",
    strong(node.element.time),
    " each.",
    ...workWords(node, model),
    ...lineWords(node, model),
    ...turnedAwayWords(node, model),
    ...whereTo(node, model.nodes),
  ],

  takesTime: ({ settings }) => settings.get("time")?.constant !== 0,
});

type Checkable = Pick<Node<Station>, "element" | "settings">;

function checkSlots({ element, settings }: Checkable, report: Report): void {
  const capacity = settings.get("capacity")?.constant ?? 1;
  if (!isPlain({ element, settings }) && capacity > MOST_SLOTS) {
    report(
      "too-many-slots",
      "capacity",
      `at most ${MOST_SLOTS} slots can have a calendar, setups, resources, breakdowns, batches or a line in an order of its own; this has ${capacity}.`,
      "Lower the capacity, or do without them.",
    );
  }
  const [least, most] = [settings.get("batchLeast")?.constant ?? 1, settings.get("batchMost")?.constant ?? 1];
  if (least > most)
    report(
      "batch-sizes",
      "batchMost",
      `a batch of at most ${most} never reaches the ${least} with which work may start.`,
      "Raise the most, or lower the least.",
    );
}

function checkChangeovers({ element, settings }: Checkable, report: Report): void {
  if (element.setupWhen === "on change" && element.setup.trim() === "" && element.changeovers.length === 0) {
    report(
      "empty-setting",
      "setup",
      "a setup is needed on a change, but nothing says how long it takes.",
      "Write the time to set up, or add changeovers.",
      "warning",
    );
  }
  const by = settings.get("setupBy")?.type;
  for (const { id } of element.changeovers) {
    for (const end of ["from", "to"]) {
      const type = settings.get(`changeovers.${id}.${end}`)?.type;
      if (by && type && JSON.stringify(by) !== JSON.stringify(type))
        report(
          "unit-mismatch",
          `changeovers.${id}.${end}`,
          "this is another kind of value than what the changeover goes by.",
          "Write a value that it can have.",
        );
    }
  }
}

/** Says when work needs more of a resource than there ever are. */
function checkNeeds({ element, settings }: Checkable, report: Report, design: DesignOf): void {
  const most = (id: string) => fixedCount(design.elements.find((e) => e.id === id)) ?? Infinity;
  for (const { id, anyOf } of element.needs) {
    const wanted = settings.get(`needs.${id}.count`)?.constant;
    if (wanted !== undefined && anyOf.length > 0 && anyOf.every((resource) => most(resource) < wanted))
      report(
        "need-too-large",
        `needs.${id}.count`,
        `work here needs ${wanted}, more than there are.`,
        "Lower it, or have more of the resource.",
      );
  }
}

/** How many units a resource has, where that is a plain number. */
const fixedCount = (resource: ElementBase | undefined): number | undefined =>
  resource && "count" in resource && /^\d+$/.test(String(resource.count).trim()) ? Number(resource.count) : undefined;

/** Whether nothing but entities and time stops or starts the work, and who came first is next. */
const isPlain = ({ element, settings }: Checkable): boolean =>
  element.order === "first come" &&
  element.calendar === "" &&
  !settings.has("setup") &&
  element.setupWhen === "always" &&
  !settings.has("teardown") &&
  element.needs.length === 0 &&
  element.breakdowns.length === 0 &&
  !settings.has("rework") &&
  (settings.get("batchMost")?.constant ?? 1) === 1;

/** Setups, resources, batches, shifts and breakdowns, in words. */
function workWords({ element }: Node<Station>, { nodes, study }: Pick<Model, "nodes" | "study">): Phrase[] {
  const { setup, setupWhen, setupBy, teardown, needs, breakdowns, batchLeast, batchMost, batchWait, rework, calendar } =
    element;
  const nameOf = (id: string) => nodes.find((n) => n.element.id === id)?.element.name ?? "nothing yet";
  const words: Phrase[] = [];
  if (batchMost !== "1")
    words.push(
      " Work starts with ",
      strong(batchLeast),
      " to ",
      strong(batchMost),
      " together",
      ...(batchWait && batchLeast !== "1" ? [", or with fewer after ", strong(batchWait)] : []),
      ".",
    );
  if (setup || setupWhen === "on change")
    words.push(
      " It is set up",
      ...(setup ? [" for ", strong(setup)] : []),
      setupWhen === "always" ? " each time." : " on a change of ",
      ...(setupWhen === "always"
        ? []
        : [
            strong(setupBy),
            ...(element.changeovers.length > 0
              ? [
                  `, with ${element.changeovers.length} changeover ${element.changeovers.length === 1 ? "time" : "times"} of its own`,
                ]
              : []),
            ".",
          ]),
    );
  for (const { anyOf, count, phases, which, can, times } of needs)
    words.push(
      ` For ${phases.join(" and ")} it needs `,
      strong(count),
      " of ",
      ...(which.trim() === "" ? [] : [strong(which), ", one of "]),
      ...listed(anyOf.map(nameOf), " or "),
      ...(can.trim() === "" ? [] : [" where ", strong(can)]),
      ...(times.trim() === "" ? [] : [", with whom it takes ", strong(times), " times as long"]),
      ".",
    );
  if (teardown) words.push(" Tearing down takes ", strong(teardown), ".");
  if (rework) words.push(" The work is done again with ", strong(rework), ".");
  if (calendar)
    words.push(
      " It keeps the hours of ",
      strong(study.calendars.find((c) => c.id === calendar)?.name ?? "no calendar yet"),
      `: ${element.atBell}.`,
    );
  for (const { clock, every, jobs, repair } of breakdowns)
    words.push(
      " It breaks down every ",
      strong(clock === "jobs" ? `${jobs} ${batchMost === "1" ? "jobs" : "batches"}` : every),
      clock === "busy time" ? " of work" : "",
      " for ",
      strong(repair),
      ".",
    );
  if (breakdowns.length > 0) words.push(` Work then: ${element.onBreakdown}.`);
  return words;
}

function lineWords(node: Node<Station>, model: Pick<Model, "nodes">): Phrase[] {
  const { turnedAway } = node;
  const room = roomInLine(node, model);
  if (room === Infinity) return [" Its own line has room for any number."];
  const full =
    node.element.whenFull === "lose"
      ? turnedAway
        ? "; who finds it full is turned away"
        : "; who finds it full is lost"
      : "; who finds it full waits at the place before";
  return room === 0
    ? [` It has no line of its own${full}.`]
    : [" Its own line has room for ", strong(String(room)), `${full}.`];
}
