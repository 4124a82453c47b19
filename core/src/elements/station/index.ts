import type { ElementOf } from "../../document/schema.ts";
import { PLAIN } from "../../expression/index.ts";
import type { Model, Node } from "../../model/model.ts";
import { BREAKDOWN_LIST, NEED_COUNT } from "../breakdowns.ts";
import { costField, countField, DESTINATION_FIELD, INITIAL_LIST, timeField } from "../fields.ts";
import { elementKind, type Phrase } from "../kind.ts";
import { LINE_FIELDS, orderWords, turnedAwayWords } from "../line.ts";
import { fromWhere, listed, strong, whereTo } from "../words.ts";
import { prepareFull } from "./full.ts";
import { preparePlain } from "./plain.ts";
import { STATION_PROPERTIES } from "./properties.ts";
import { roomInLine } from "./room.ts";

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
  fields: [
    countField("capacity", "Capacity", "Entities, or batches, worked on at once.", [1, 1e6], { fixed: true }),
    timeField("time", "Time", "Time of work on one entity, or one batch."),
    countField(
      "room",
      "Room in line",
      "Most entities in the station's own line. Auto: none when a queue leads here, else no limit.",
      [0, 1e9],
      { words: ["auto", "no limit"], fixed: true },
    ),
    ...LINE_FIELDS,
    timeField("setup", "Setup", "Time to set up before work. Empty: none.", { optional: true }),
    {
      name: "setupBy",
      label: "Change of",
      help: "A setup is needed where this differs from the entity before, such as entity.colour.",
      type: PLAIN,
      any: "value",
      entity: true,
      steady: true,
      used: ({ setupWhen }) => setupWhen === "on change",
    },
    timeField("teardown", "Teardown", "Time to tear down after work, the entity still in its slot. Empty: none.", {
      optional: true,
    }),
    {
      name: "priority",
      label: "Priority",
      help: "Who gets a resource first: the highest number. Empty: 0.",
      type: PLAIN,
      optional: true,
      entity: true,
      used: ({ needs }) => Array.isArray(needs) && needs.length > 0,
    },
    countField("batchLeast", "Start with at least", "Entities with which work may start.", [1, 1e6], { fixed: true }),
    countField("batchMost", "At most", "Most entities worked on together.", [1, 1e6], { fixed: true }),
    timeField(
      "batchWait",
      "After at most",
      "When the first in line has waited so long, work starts with those that are there. Empty: no limit.",
      { optional: true, used: ({ batchLeast }) => batchLeast !== "1" },
    ),
    {
      name: "rework",
      label: "Again",
      help: "Chance, such as 5 %, or condition that the work has to be done again at once. Empty: never.",
      type: PLAIN,
      chance: true,
      optional: true,
      entity: true,
    },
    costField("costBusy", "Cost of work", "For time at work, such as 40 money/h for each slot.", "time"),
    costField("costOpen", "Cost on shift", "For time on shift, at work or not, for each slot.", "time"),
    costField("costEach", "Cost of each", "For each entity finished.", "piece"),
    DESTINATION_FIELD,
  ],
  lists: [
    {
      name: "changeovers",
      one: "changeover",
      fields: [
        {
          name: "from",
          label: "From",
          help: "Value before; empty: any, and the start.",
          type: PLAIN,
          any: "value",
          fixed: true,
          optional: true,
        },
        {
          name: "to",
          label: "To",
          help: "Value now; empty: any.",
          type: PLAIN,
          any: "value",
          fixed: true,
          optional: true,
        },
        timeField("time", "Time", "Time of the changeover."),
      ],
      used: ({ setupWhen }) => setupWhen === "on change",
    },
    { name: "needs", one: "need", fields: [NEED_COUNT] },
    BREAKDOWN_LIST,
    INITIAL_LIST,
  ],
  properties: STATION_PROPERTIES,

  check({ element, settings }, report) {
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
  },

  bears: ({ element }, indexOf) => element.initial.flatMap(({ entityType }) => indexOf(entityType) ?? []),

  prepare: (node, lowering) => (isPlain(node) ? preparePlain(node, lowering) : prepareFull(node, lowering)),

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

/** Whether nothing but entities and time stops or starts the work, and who came first is next. */
const isPlain = ({ element, settings }: Pick<Node<ElementOf<"station">>, "element" | "settings">): boolean =>
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
function workWords(
  { element }: Node<ElementOf<"station">>,
  { nodes, study }: Pick<Model, "nodes" | "study">,
): Phrase[] {
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
  for (const { anyOf, count, phases } of needs)
    words.push(
      ` For ${phases.join(" and ")} it needs `,
      strong(count),
      " of ",
      ...listed(anyOf.map(nameOf), " or "),
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

function lineWords(node: Node<ElementOf<"station">>, model: Pick<Model, "nodes">): Phrase[] {
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
