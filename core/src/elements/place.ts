import type { ElementBase } from "../document/element.ts";
import { EventClass, SUSPEND } from "../kernel/kernel.ts";
import { PART } from "../kernel/pool.ts";
import { UNIT } from "../lowering/units.ts";
import { count as measureCount } from "../measures/spec.ts";
import type { Node } from "../model/model.ts";
import { choice, flag, settings, time } from "../settings/setting.ts";
import { elementKind } from "./kind.ts";
import { POOL_EVENTS, POOL_MEASURES, POOL_PROPERTIES, ResourcePool, poolSettings } from "./resourcePool.ts";
import { WAY_OUT } from "./wayOut.ts";
import { fromWhere, strong, whereTo } from "./words.ts";

/** How people are at a spot. */
export const POSTURES = [
  ["sitting", "sitting"],
  ["standing", "standing"],
  ["lying", "lying"],
  ["typing", "typing, at a desk"],
] as const;

const { preempt: _, atBell: __, count, ...SPOTS } = poolSettings("spots");

/** What a place is to those who give out units: nobody is sent away from a spot. */
const asPool = <E extends object>(node: Node<ElementBase & E>) => ({
  ...node,
  element: { ...node.element, preempt: false, atBell: "finish, keep the timetable" as const },
});

/** Spots where people sit, stand or lie: who comes takes one, stays, and goes on when there is room ahead. */
export const place = elementKind({
  kind: "place",
  label: "Place",
  plural: "Places",
  summary: "Spots where people sit, stand, lie or type.",
  group: "flow",
  hasWayIn: true,
  hasWayOut: true,
  hasLine: true,
  hasSpots: true,
  units: "count",
  counts: "waiting",
  quiet: true,
  standsAlone: true,
  states: ({ calendar }) => [UNIT.idle, UNIT.busy, ...(calendar === "" ? [] : [UNIT.offShift])],
  settings: settings({
    count: { ...count, label: "Spots", schema: count.schema.default("8") },
    posture: choice(
      "People there are",
      "How people are at a spot: what steps look for that want to sit, say.",
      POSTURES,
    ),
    time: time(
      "Stay",
      "How long each stays at least; then it goes on when there is room for it, and stays till then.",
      {
        initial: "0 s",
        draws: 10,
        width: 200,
      },
    ),
    patience: time("Waits at most", "For a spot; then it goes on as turned away. Empty: for ever.", {
      optional: true,
      draws: 11,
    }),
    bySpot: flag("Figures by spot", "Tell each spot apart", "Whether the use of each spot is measured by itself.", {
      told: "figures by spot",
    }),
    ...SPOTS,
    ...WAY_OUT,
  }),
  sections: [
    { title: "Spots", of: ["count", "posture", "time", "patience", "order", "bySpot"] },
    { title: "Hours", of: ["calendar"], folded: true },
    { title: "Cost", of: ["costBusy", "costOpen"], folded: true },
  ],
  aside: { "turned away": ({ patience }) => patience.trim() !== "" },
  properties: POOL_PROPERTIES,
  settable: ({ calendar }) => (calendar === "" ? ["count"] : ["count", "keepsHours"]),
  events: POOL_EVENTS,
  measures: {
    ...POOL_MEASURES,
    left: measureCount("Left", "Entities that went on from a spot along a way out.", { merge: "sum", better: "more" }),
    gaveUp: measureCount("Gave up waiting", "Entities that did not get a spot in the time that they wait.", {
      merge: "sum",
      better: "less",
    }),
  },

  prepare(node, lowering, measured) {
    const { element } = node;
    const pool = new ResourcePool(asPool(node), lowering);
    lowering.resources.add(pool);
    pool.measures(asPool(node), lowering, measured, [UNIT.busy, UNIT.offShift, UNIT.idle]);
    if (element.bySpot) pool.tellApart(lowering, measured, (spot) => `Spot ${spot + 1}`);
    const left = lowering.meters.counter();
    const gaveUp = lowering.meters.counter();
    measured.add("left", () => left.n);
    if (element.patience.trim() !== "") measured.add("gaveUp", () => gaveUp.n);
    return {
      readers: pool.readers,
      writers: pool.writers(asPool(node), lowering),
      lower() {
        const { kernel, network, places, expressions, resources } = lowering;
        const { requests } = resources;
        const { clock } = kernel;
        const tokens = kernel.pool;
        const stay = expressions.read(node, "time", 0);
        const patience = node.settings.has("patience") ? expressions.read(node, "patience", 0) : undefined;
        const [waiting, there] = [places.of(node, "waiting"), places.of(node, "dwelling")];
        const asker = { id: element.id, yields: false, needs: [{ anyOf: [pool], count: () => 1 }] };
        const away = network.leave(node, {
          release(token) {
            left.total += 1;
            requests.free(token);
          },
          // Where it is called from: it keeps its spot until then.
          onBlocked: (token) => tokens.begin(token, there, clock),
          onUnblocked: (token) => tokens.credit(token, PART.waiting, clock),
        });
        const stayed = kernel.emit((token) => {
          tokens.credit(token, PART.dwelling, clock);
          return away;
        });
        const turnAway = network.turnAway(node);
        const decided = kernel.emit((token) => {
          tokens.credit(token, PART.waiting, clock);
          if (patience && requests.waits(token)) {
            requests.free(token, 0);
            gaveUp.total += 1;
            return turnAway(token);
          }
          if (patience && !Number.isNaN(kernel.calendar.timeOf(token))) kernel.calendar.cancel(token);
          tokens.beginUntil(token, there, stayed, clock);
          kernel.delay(token, stay(token), EventClass.activityEnd, element.id, "time");
          return SUSPEND;
        });
        network.enterBy(
          node,
          kernel.emit((token) => {
            tokens.beginUntil(token, waiting, decided, clock);
            requests.ask(token, asker, 1, 0);
            // After what is given at this instant: who has no patience still gets a spot that is free.
            if (patience) kernel.delay(token, patience(token), EventClass.recheck, element.id, "patience");
            return SUSPEND;
          }),
        );
      },
    };
  },

  readBack: (node, { nodes, study }) => {
    const { element } = node;
    return [
      "Takes people from ",
      ...fromWhere(node, nodes),
      ". Each takes one of ",
      strong(element.count),
      ` spots, ${element.posture}, `,
      element.order === "first asked" ? "who came first being first" : "who came last being first",
      ...(element.patience === "" ? [""] : [", or gives up after ", strong(element.patience)]),
      "; stays ",
      strong(element.time),
      " at least, and until there is room where it goes on.",
      ...(element.calendar === ""
        ? []
        : [" Hours: ", strong(study.calendars.find((c) => c.id === element.calendar)?.name ?? "no calendar yet"), "."]),
      ...whereTo(node, nodes),
    ];
  },
  takesTime: () => true,
});
