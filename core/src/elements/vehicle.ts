import { numberOf, PLAIN } from "../expression/index.ts";
import { EventClass } from "../kernel/kernel.ts";
import { Counter } from "../lowering/counter.ts";
import { DOING, type Doing, type FleetMeters } from "../lowering/carrying.ts";
import { Fleet } from "../lowering/fleet.ts";
import { type FromTo, readFromTo } from "../model/fromTo.ts";
import type { Measured } from "../lowering/measured.ts";
import type { Meters } from "../lowering/meters.ts";
import { count as counted, level, type MeasureSpec, type MeasureSpecs, meanTime, tally } from "../measures/spec.ts";
import { ACCELERATION, LENGTH, NUMBER } from "../quantity/index.ts";
import {
  choice,
  count,
  expression,
  number,
  reference,
  rows,
  settings,
  speed,
  time,
  value,
} from "../settings/setting.ts";
import { type Model, nameOfNode, type Node } from "../model/model.ts";
import { elementKind } from "./kind.ts";
import { LINE, orderWords, ranking } from "./line.ts";
import { HOURS_OF_EACH, hoursOfEach, keepsHours, ownHours } from "./memberHours.ts";
import { CHARGE, checkTrips, readTrips, TRIPS, tripWords } from "./vehicleTrips.ts";
import { listed, strong, tableName } from "./words.ts";

const DOING_WORDS: Readonly<Record<(typeof DOING)[number], string>> = {
  idle: " idle",
  empty: " driving empty",
  loading: " loading",
  loaded: " driving loaded",
  unloading: " unloading",
  returning: " returning home",
  cruising: " cruising",
  heldUp: " held up by others",
  atStop: " standing at a stop",
  refilling: " refilling",
  offShift: " off shift",
  down: " down",
};

const ANSWERS = {
  nearest: "the nearest",
  "longest idle": "that idle longest",
  "least used": "that with the fewest trips",
  "fixed order": "the first",
  "least value": "that of the least value",
} as const;

const doing: MeasureSpec = {
  label: "Share of time",
  statistic: "share",
  dimension: NUMBER,
  definition: "Share of the time of all vehicles in which they do this; all together are 1.",
  formula: "(1/T) ∫ vehicles that do it dt / vehicles",
  keeps: true,
  parts: DOING_WORDS,
};

const setsUp = ({ setup }: Readonly<Record<string, unknown>>): boolean =>
  typeof setup === "string" && setup.trim() !== "";

const byValue = ({ answers }: Readonly<Record<string, unknown>>): boolean => answers === "least value";

const overWays = ({ over }: Readonly<Record<string, unknown>>): boolean => over === "ways";

const MEASURES = {
  doing,
  waiting: level("Waiting to be carried", "Entities that wait for a vehicle", { better: "less" }),
  wait: tally("Wait for a vehicle", "From asking until the vehicle has come.", { better: "less" }),
  noneFree: meanTime("Wait while none was free", "From asking until a vehicle set out.", { better: "less" }),
  onTheWay: meanTime("Wait while it was on the way", "From when the vehicle set out until it came.", {
    better: "less",
  }),
  breakdowns: counted("Breakdowns", "Breakdowns of its vehicles.", { better: "less" }),
  refills: counted("Refills", "Times that one went to refill.", { better: "less" }),
  trips: counted("Trips", "Trips and tours that came to their end, each with one load or more.", { better: "more" }),
  brought: counted("Entities brought", "Entities that were brought, several on one trip where they fit.", {
    better: "more",
  }),
  distance: counted("Distance", "Driven, loaded and empty.", { dimension: LENGTH, better: "less" }),
  distanceLoaded: counted("Distance loaded", "Driven with a load.", { dimension: LENGTH }),
} as const satisfies MeasureSpecs;

/** The table by which its vehicles go. */
function fromToOf({ element }: Node, model: Model): FromTo | undefined {
  const { fromTo } = element as unknown as { readonly fromTo: string };
  const table = model.tables.find(({ id }) => id === fromTo);
  return table && readFromTo(model, table);
}

/** What is measured of a fleet; what it can never be doing has no figure. */
function measureFleet(
  measured: Measured<typeof MEASURES>,
  meters: Meters,
  vehicles: number,
  never: readonly Doing[],
): FleetMeters {
  const of = {
    doing: DOING.map(() => meters.level()),
    waiting: meters.level(),
    wait: meters.tally(),
    noneFree: meters.tally(),
    onTheWay: meters.tally(),
    breakdowns: meters.counter(),
    refills: meters.counter(),
    trips: meters.counter(),
    brought: meters.counter(),
    metres: meters.add(new Counter()),
    metresLoaded: meters.add(new Counter()),
  };
  DOING.forEach((part, i) => {
    if (never.includes(part)) return;
    measured.keeps("doing", { levels: [of.doing[i]], read: () => of.doing[i].value / vehicles }, { part });
    measured.add("doing", () => of.doing[i].integral / (vehicles * meters.time), { part });
  });
  measured.level("waiting", of.waiting);
  measured.tally("wait", [of.wait]);
  measured.add("noneFree", () => of.noneFree.mean, { part: "mean" });
  measured.add("onTheWay", () => of.onTheWay.mean, { part: "mean" });
  if (!never.includes("down")) measured.add("breakdowns", () => of.breakdowns.n);
  if (!never.includes("refilling")) measured.add("refills", () => of.refills.n);
  measured.add("trips", () => of.trips.n);
  measured.add("brought", () => of.brought.n);
  measured.add("distance", () => of.metres.n);
  measured.add("distanceLoaded", () => of.metresLoaded.n);
  return of;
}

/** Vehicles of one sort, at one home: they carry entities along links that say so. */
export const vehicle = elementKind({
  kind: "vehicle",
  label: "Vehicle",
  plural: "Vehicles",
  summary: "Carries entities along links.",
  group: "transport",
  hasWayIn: false,
  hasWayOut: false,
  standsAlone: true,
  counts: "asked for",
  quiet: true,
  settings: settings({
    count: count("Vehicles", "How many there are, all at home at the start.", [1, 2000], {
      initial: "1",
      fixed: true,
      entity: false,
      used: ({ table }) => table === "",
    }),
    table: reference("table", "Rows of", "A table of which each vehicle has a row, known here as row.", {
      none: "no table: all are alike",
    }),
    homeAt: expression(
      "At home",
      "The element at which one begins, such as row.home. Empty: here.",
      { kind: "element" },
      {
        optional: true,
        entity: false,
        steady: true,
      },
    ),
    over: choice("Goes", "Where they go: straight from one element to the next, or over the ways that are drawn.", [
      ["straight", "straight"],
      ["ways", "over walkways and roads"],
      ["table", "by a from-to table"],
    ]),
    fromTo: reference(
      "table",
      "From-to table",
      "A matrix of times, taken at any speed, or of lengths, its rows and columns elements by name. What it leaves empty is gone over drawn ways.",
      { used: ({ over }) => over === "table", none: "none yet" },
    ),
    way: choice(
      "Which way",
      "Over walkways and roads: the way of least length, or that of least time at its speed with a load.",
      [
        ["shortest", "the shortest"],
        ["quickest", "the quickest"],
      ],
      { used: overWays },
    ),
    speed: speed("Speed empty", "Speed without a load.", { initial: "5 m/s", entity: false, draws: 1 }),
    speedLoaded: speed("Speed loaded", "Speed with a load.", { initial: "5 m/s", entity: false, draws: 2 }),
    acceleration: expression(
      "Acceleration",
      "Gathering speed and slowing down, such as 0.5 m/s^2. Empty: full speed at once.",
      numberOf(ACCELERATION),
      { optional: true, fixed: true, entity: false, above: 0 },
    ),
    turning: speed("Speed in turns", "Where a way turns by more than 30 degrees. Empty: no slower.", {
      optional: true,
      fixed: true,
      entity: false,
      used: (of) => overWays(of) && of.acceleration !== "",
    }),
    load: time("Time to load", "From when it has come until it sets out with its load.", { initial: "0 s", draws: 3 }),
    setup: time("Setup", "Before a load, besides the time to load it. Empty: none.", {
      optional: true,
      draws: 13,
      drawsWhere: setsUp,
    }),
    setupBy: value("Change of", "A setup is needed where this differs from its load before. Empty: before each load.", {
      initial: "",
      optional: true,
      entity: true,
      steady: true,
      used: setsUp,
    }),
    unload: time("Time to unload", "From when it has come until its load goes on.", { initial: "0 s", draws: 4 }),
    limit: number("Load limit", "The most that one carries at once: so many, or a weight or volume.", {
      initial: "1",
      entity: false,
      steady: true,
      above: 0,
    }),
    takes: number("Each takes", "Of the load limit: 1 for a count, or a weight or volume, such as entity.weight.", {
      initial: "1",
      entity: true,
      steady: true,
    }),
    order: LINE.order,
    rank: LINE.rank,
    answers: choice("Who answers", "Which of those that are idle answers who is next.", [
      ["nearest", "the nearest"],
      ["longest idle", "that idle longest"],
      ["least used", "the least used"],
      ["fixed order", "the first in order"],
      ["least value", "that of the least value"],
    ]),
    worth: number("Least of", "Any number, asked for each that is idle, such as row.hire * entity.weight.", {
      any: "number",
      entity: true,
      draws: 11,
      drawsWhere: byValue,
      used: byValue,
      initial: "1",
    }),
    idle: choice("When idle", "What one does that nobody waits for.", [
      ["stay", "stays where it is"],
      ["home", "goes home"],
      ["parks", "goes to where it parks"],
      ["cruises", "cruises"],
    ]),
    parks: reference("element", "Parks at", "The element at which it waits.", { used: ({ idle }) => idle === "parks" }),
    rounds: rows("Round", "Elements that one goes round while it cruises; it answers from each when it comes there.", {
      one: "place",
      most: 100,
      used: ({ idle }) => idle === "cruises",
      row: { at: reference("element", "Place", "An element that it comes to.", { orItself: true }) },
    }),
    ...TRIPS,
    ...CHARGE,
    calendar: reference(
      "shift calendar",
      "Shift calendar",
      "How many are there. Who is under way ends the trip first.",
      {
        none: "none: always there",
        told: "calendar",
        used: (of) => ownHours(of) === "",
      },
    ),
    hoursAt: HOURS_OF_EACH,
    every: time("Time to the next breakdown", "From a repair to the next, of each vehicle. Empty: none.", {
      optional: true,
      entity: false,
      draws: 5,
      drawsWhere: ({ every }) => typeof every === "string" && every !== "",
    }),
    repair: time("Time to repair", "For which it stands where it is, with what it carries.", {
      initial: "exponential(30 min)",
      entity: false,
      draws: 6,
      drawsWhere: ({ every }) => typeof every === "string" && every !== "",
      used: ({ every }) => every !== "",
    }),
  }),
  sections: [
    { title: "Vehicles", of: ["count", "table", "homeAt", "over", "fromTo", "way", "speed", "speedLoaded"] },
    { title: "Gathering speed", of: ["acceleration", "turning"], folded: true },
    { title: "Load", of: ["load", "unload", "limit", "takes", "setup", "setupBy"] },
    {
      title: "Trips",
      of: ["runs", "trip", "visits", "least", "patience", "stops", "tours", "tourFirst", "tourEvery", "tourTimes"],
    },
    { title: "Requests", of: ["order", "rank", "answers", "worth", "idle", "parks", "rounds"] },
    { title: "Battery or tank", of: ["range", "below", "refillAt", "refillTime"], folded: true },
    { title: "Hours", of: ["hoursAt", "calendar"], folded: true },
    { title: "Breakdowns", of: ["every", "repair"], folded: true },
  ],
  properties: { free: PLAIN, count: PLAIN, line: PLAIN },
  measures: MEASURES,

  check: ({ element, settings: of }, report, design) => {
    checkTrips(element, report, design);
    if (element.idle === "parks" && !design.elements.some(({ id }) => id === element.parks))
      report("missing-element", "parks", "It is not said at which element it parks.", "Choose one, or have it stay.");
    if (element.idle === "cruises") {
      const places = new Set(element.rounds.map(({ at }) => at));
      for (const { id, at } of element.rounds)
        if (!design.elements.some((one) => one.id === at))
          report("missing-element", `rounds.${id}.at`, "It is not said to which element it comes.", "Choose one.");
      if (places.size < 2)
        report("no-stops", "rounds", "A round needs two places at least.", "Add the places that it goes round.");
    }
    const { speedLoaded } = vehicle.settings;
    if (element.over === "ways" && element.way === "quickest" && of.get("speedLoaded")?.constant === undefined)
      report(
        "not-fixed",
        "speedLoaded",
        `${speedLoaded.label}: which way is the quickest is known at a fixed speed alone.`,
        "Give a fixed speed, or take the shortest way.",
      );
  },

  prepare(node, lowering, measured) {
    const { meters, kernel, model, replication, population } = lowering;
    const { element } = node;
    const constant = (field: string) => node.settings.get(field)?.constant;
    const vehicles = node.rows ? Math.max(1, node.rows.table.rows) : (constant("count") ?? 1);
    const read = (field: string) => lowering.expressions.readLater(node, field, 0);
    const trips = readTrips(node, lowering);
    const breaks = (element.every ?? "").trim() !== "";
    const of = measureFleet(measured, meters, vehicles, [
      ...(keepsHours(element) ? [] : (["offShift"] as const)),
      ...(breaks ? [] : (["down"] as const)),
      ...(trips.tour ? [] : (["atStop"] as const)),
      ...(trips.charge ? [] : (["refilling"] as const)),
      ...(element.idle === "cruises" ? [] : (["cruising"] as const)),
      ...(model.followed.length > 0 ? [] : (["heldUp"] as const)),
    ]);
    lowering.shown.count(node, () => of.waiting.value);
    const fleet = new Fleet(
      {
        count: vehicles,
        setRow: node.rows && ((v) => (node.rows!.at = v)),
        home: node.settings.has("homeAt") ? read("homeAt") : () => node.index,
        going: {
          overWays: element.over === "ways",
          fromTo: element.over === "table" ? fromToOf(node, model) : undefined,
          ...(element.way === "quickest" ? { quickestAt: constant("speedLoaded") ?? 1 } : {}),
          mindsTurns: constant("turning") !== undefined,
        },
        acceleration: constant("acceleration"),
        turning: constant("turning"),
        rankOf: ranking(node, lowering),
        answers: element.answers,
        worth: read("worth"),
        rest:
          element.idle === "stay"
            ? "stays"
            : element.idle === "home" || element.idle === "cruises"
              ? element.idle
              : (model.nodes.find((one) => one.element.id === element.parks)?.index ?? node.index),
        rounds: element.rounds.map(({ at }) => model.nodes.findIndex((one) => one.element.id === at)),
        setup: node.settings.has("setup")
          ? { time: read("setup"), by: node.settings.has("setupBy") ? read("setupBy") : undefined }
          : undefined,
        ...trips,
        speed: read("speed"),
        speedLoaded: read("speedLoaded"),
        load: read("load"),
        unload: read("unload"),
        limit: read("limit"),
        takes: read("takes"),
        timetable: model.timetables.get(element.calendar),
        timetableOf: hoursOfEach(node, lowering),
        breaks: breaks ? { every: read("every"), repair: read("repair") } : undefined,
        id: element.id,
        name: element.name,
      },
      of,
      model,
      kernel,
      lowering.traffic,
      population.keepTransport(),
      (act) => replication.atEndOfInstant(EventClass.resources, act),
    );
    replication.atStart(() => fleet.begin());
    lowering.fleets.set(element.id, fleet);
    return {
      readers: { free: () => fleet.free, count: () => vehicles, line: () => of.waiting.value },
      lower: () => undefined,
    };
  },

  readBack: ({ element }, { nodes, study }) => {
    // Of a family all members at once.
    const users = new Set(
      nodes.flatMap(({ element: from, member, out }) =>
        out
          .filter(({ link }) => link.kind === "carried" && link.by === element.id)
          .map(({ to }) => `from ${nameOfNode({ element: from, member })} to ${nameOfNode(nodes[to])}`),
      ),
    );
    return [
      ...(element.table === ""
        ? [strong(element.count), element.count === "1" ? " vehicle, " : " vehicles, "]
        : ["As many vehicles as ", strong(tableName(study, element.table)), " has rows, "]),
      element.over === "table" ? `by ${tableName(study, element.fromTo)}, ` : "",
      element.over === "table"
        ? ""
        : element.over === "ways"
          ? element.way === "quickest"
            ? "by the quickest of the ways that are drawn, "
            : "over the ways that are drawn, "
          : "straight, ",
      strong(element.speed),
      " empty and ",
      strong(element.speedLoaded),
      " loaded",
      ...(element.acceleration === ""
        ? []
        : [
            ", gathering speed at ",
            strong(element.acceleration),
            ...(element.turning === "" || element.over !== "ways" ? [] : [", in turns at ", strong(element.turning)]),
          ]),
      ". ",
      ...(element.limit === "1" && element.takes === "1"
        ? []
        : ["One carries ", strong(element.limit), " at most, of which each takes ", strong(element.takes), ". "]),
      ...(users.size > 0
        ? ["Carries ", ...listed([...users]), "."]
        : ["Carries nothing yet: let a link be carried by it."]),
      " Who waits is answered",
      ...orderWords(element),
      ", by ",
      strong(ANSWERS[element.answers]),
      ...(element.answers === "least value" ? [" of ", strong(element.worth)] : []),
      " of those that are idle; one that nobody waits for ",
      element.idle === "stay"
        ? "stays where it is."
        : element.idle === "cruises"
          ? "goes round and round."
          : element.idle === "home"
            ? "goes home."
            : `goes to ${nodes.find((one) => one.element.id === element.parks)?.element.name ?? "no element yet"}.`,
      ...tripWords(element, { nodes }),
      ...(ownHours(element) !== ""
        ? [" Each is there by ", strong(ownHours(element)), "."]
        : element.calendar === ""
          ? []
          : [
              " Hours: ",
              strong(study.calendars.find((c) => c.id === element.calendar)?.name ?? "no calendar yet"),
              ".",
            ]),
      ...(element.every === ""
        ? []
        : [" Each breaks down every ", strong(element.every), ", for ", strong(element.repair), "."]),
    ];
  },
  takesTime: () => true,
});
