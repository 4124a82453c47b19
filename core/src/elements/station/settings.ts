import { cost as costMeasure, count as measureCount, throughput } from "../../measures/spec.ts";
import {
  choice,
  cost,
  count,
  expression,
  flag,
  resources,
  rows,
  settings,
  several,
  time,
  value,
} from "../../settings/setting.ts";
import { NUMBER } from "../../quantity/index.ts";
import { numberOf, PLAIN, YES_NO } from "../../expression/index.ts";
import { needCount, timesAsLong, whoCan } from "../../settings/needs.ts";
import { BREAKDOWNS } from "../breakdowns.ts";
import { COST_RATES } from "../costRates.ts";
import { HOURS } from "../hours.ts";
import { INITIAL } from "../initial.ts";
import type { ElementWith } from "../kind.ts";
import { LINE, LINE_MEASURES, TURNED_AWAY_MEASURES, WHEN_FULL } from "../line.ts";
import { UNIT_MEASURES } from "../../lowering/units.ts";
import { WAY_OUT } from "../wayOut.ts";

export const WORK_PHASES = ["setup", "work", "teardown"] as const;

export const STATION = settings({
  capacity: count("Capacity", "Entities, or batches, worked on at once.", [1, 1e6], { initial: "1", fixed: true }),
  time: time("Time", "Time of work on one entity, or one batch.", {
    initial: "exponential(4 min)",
    draws: 10,
    width: 230,
  }),
  room: count(
    "Room in line",
    "Most entities in the station's own line. Auto: none when a queue, a place or a conveyor leads here, else no limit.",
    [0, 1e9],
    { initial: "auto", words: ["auto", "no limit"], fixed: true },
  ),
  ...WHEN_FULL,
  ...LINE,
  ...HOURS,
  setup: time("Setup", "Time to set up before work. Empty: none.", { optional: true, draws: 60 }),
  setupWhen: choice(
    "Set up",
    "When a setup is needed.",
    [
      ["always", "before each"],
      ["on change", "on a change"],
    ],
    { told: "when to set up" },
  ),
  setupBy: value("Change of", "A setup is needed where this differs from the entity before, such as entity.colour.", {
    initial: "entity.type",
    entity: true,
    steady: true,
    used: ({ setupWhen }) => setupWhen === "on change",
  }),
  changeovers: rows(
    "Changeovers",
    "Setup times from one value to another; empty from or to: any. The first that fits holds; where none does, the time to set up.",
    {
      one: "changeover",
      told: "changeover times",
      most: 1000,
      used: ({ setupWhen }) => setupWhen === "on change",
      row: {
        from: value("From", "Value before; empty: any, and the start.", { fixed: true, optional: true }),
        to: value("To", "Value now; empty: any.", { fixed: true, optional: true }),
        time: time("Time", "Time of the changeover.", { initial: "10 min", draws: 110 }),
      },
    },
  ),
  teardown: time("Teardown", "Time to tear down after work, the entity still in its slot. Empty: none.", {
    optional: true,
    draws: 61,
  }),
  needs: rows("Needs", "Resources that work here needs, all of them at once.", {
    one: "need",
    told: "needs of resources",
    most: 30,
    row: {
      anyOf: resources("Needs", "Resources, any one of which will do, the preferred first.", { required: true }),
      count: needCount({}),
      which: expression(
        "Which one",
        "Such as Crews[entity.crew]. Empty: any.",
        { kind: "element" },
        { optional: true, entity: true, steady: true },
      ),
      can: whoCan({}),
      times: timesAsLong("Work with one"),
      phases: several("For", "Phases of the work for which it is needed.", WORK_PHASES, ["work"]),
    },
  }),
  keepResources: flag(
    "Keeps resources",
    "Kept from phase to phase where the next needs them too",
    "Resources needed for the next phase too are kept from phase to phase, and not freed between.",
    { told: "keeping resources", used: ({ needs }) => Array.isArray(needs) && needs.length > 0 },
  ),
  priority: expression("Priority", "Who gets a resource first: the highest number. Empty: 0.", PLAIN, {
    optional: true,
    entity: true,
    used: ({ needs }) => Array.isArray(needs) && needs.length > 0,
    draws: 62,
  }),
  ...BREAKDOWNS,
  onBreakdown: choice(
    "On a breakdown",
    "What becomes of work in progress on a breakdown.",
    [
      ["pause and resume", "pause and resume"],
      ["start over", "start over"],
      ["scrap", "scrap"],
    ],
    {
      told: "work on a breakdown",
      width: 150,
      used: ({ breakdowns }) => Array.isArray(breakdowns) && breakdowns.length > 0,
    },
  ),
  batchLeast: count("Start with at least", "Entities with which work may start.", [1, 1e6], {
    initial: "1",
    fixed: true,
  }),
  batchMost: count("At most", "Most entities worked on together.", [1, 1e6], { initial: "1", fixed: true }),
  batchWait: time(
    "After at most",
    "When the first in line has waited so long, work starts with those that are there. Empty: no limit.",
    { optional: true, used: ({ batchLeast }) => batchLeast !== "1", draws: 63 },
  ),
  rework: expression(
    "Again",
    "Chance, such as 5 %, or condition that the work has to be done again at once. Empty: never.",
    numberOf(NUMBER),
    { chance: true, optional: true, entity: true, draws: 64 },
  ),
  ...COST_RATES,
  costEach: cost("Cost of each", "For each entity finished. Empty: none.", "piece"),
  ...INITIAL,
  ...WAY_OUT,
});

export type Station = ElementWith<"station", typeof STATION>;

export const STATION_MEASURES = {
  ...UNIT_MEASURES,
  ...LINE_MEASURES,
  done: measureCount("Finished", "Entities whose work was finished.", { merge: "sum", better: "more" }),
  throughput,
  setups: measureCount("Setups", "Setups begun.", { better: "less" }),
  reworked: measureCount("Done again", "Times that work was done again.", { better: "less" }),
  breakdowns: measureCount("Breakdowns", "Breakdowns.", { merge: "sum", better: "less" }),
  scrapped: measureCount("Scrapped", "Entities whose work a breakdown spoiled.", { better: "less" }),
  ...TURNED_AWAY_MEASURES,
  cost: costMeasure(
    "Cost",
    "Time at work, setups included, and time on shift by their cost rates, and the cost of each entity finished.",
    "rate of work × ∫ busy dt + rate on shift × ∫ on shift dt + cost of each × finished",
    { merge: "sum" },
  ),
  "cost.each": costMeasure("Cost for each entity finished", "The cost divided by the entities finished.", "cost / n"),
} as const;

/** What expressions read of a station, whichever way it is lowered. */
export const STATION_PROPERTIES = {
  busy: PLAIN,
  free: PLAIN,
  capacity: PLAIN,
  blocked: PLAIN,
  down: PLAIN,
  offShift: PLAIN,
  keepsHours: YES_NO,
  "queue.length": PLAIN,
  "queue.room": PLAIN,
};

export type StationProperty = keyof typeof STATION_PROPERTIES;
