import { z } from "zod";

/**
 * The study file, version 1: one definition for types, validation, defaults and
 * the published JSON Schema. Lengths are metres; every quantity a person types is
 * kept as the text they typed. Unknown keys are refused, so a typing slip in a
 * hand-written file is named rather than ignored.
 */
export const FORMAT = "busy-harbor-study";
export const VERSION = 1;

const id = z.string().min(1).max(60).describe("Unique within its design.");
const name = z.string().trim().min(1).max(80);
const expression = z.string().max(4000);
const point = z
  .tuple([z.number().min(-1e7).max(1e7), z.number().min(-1e7).max(1e7)])
  .describe("[x, y] in metres, y downwards.");
const colour = z.string().regex(/^#[0-9a-fA-F]{6}$/);
/** The largest number of a random stream. */
export const LAST_STREAM = 1e9;

const streams = z
  .record(z.string(), z.int().min(0).max(LAST_STREAM))
  .default({})
  .describe("Random stream of each setting that may draw, by setting; given out when missing and kept in copies.");

/** A file's name in a study: the SHA-256 of its bytes, so that equal files are kept once. */
export const fileId = z
  .string()
  .regex(/^[0-9a-f]{64}$/, "A file is named by the SHA-256 of its bytes, 64 hexadecimal digits.");

export const DRAWING_FORMATS = ["dxf", "svg", "png", "jpeg"] as const;

const element = {
  id,
  name,
  at: point.describe("Middle of the symbol, [x, y] in metres."),
  group: z.string().max(60).default("").describe("Elements of one group are selected and moved together; empty: none."),
  locked: z.boolean().default(false).describe("Stays where it is, and is not deleted, until unlocked."),
  picture: z
    .strictObject({
      file: fileId,
      format: z.enum(DRAWING_FORMATS).exclude(["dxf"]),
      size: z.number().min(0.5).max(20).default(2),
      turn: z.number().min(-360).max(360).default(0),
    })
    .optional()
    .describe("Drawn in place of the symbol: so many times as wide as one slot, turned clockwise by degrees."),
  streams,
};

export const WAYS_OUT = ["share", "shortest line", "in turn", "first free", "condition", "cheapest", "named"] as const;
const destination = expression
  .default("")
  .describe("The element an entity goes to, where its way out is the one named.");
const wayOut = z.enum(WAYS_OUT).default("share").describe("How an entity chooses among several links out.");

const whenFull = z
  .enum(["wait", "lose"])
  .default("wait")
  .describe("What an entity does that finds no room: waits where it is, or leaves the system and is counted as lost.");

const calendarRef = z.string().max(60).default("").describe("Id of a calendar of the study; empty: none.");

export const arrivalsSchema = z.strictObject({
  kind: z.literal("arrivals"),
  ...element,
  by: z.enum(["time between", "profile", "list"]).default("time between").describe("What says when entities arrive."),
  entityType: z.string().default("").describe("Id of the entity type that arrives."),
  mix: z
    .array(z.strictObject({ id, entityType: z.string().default(""), share: expression.default("50 %") }))
    .max(200)
    .default([])
    .describe("Entity types that arrive, by their shares, in place of one; shares are weighed against their sum."),
  between: expression.default("exponential(5 min)").describe("Time between arrivals."),
  first: expression.default("").describe("Time of the first arrival; empty: after one time between arrivals."),
  profile: calendarRef.describe("Id of the demand profile that gives the rate of arrivals."),
  spacing: z
    .enum(["random", "even"])
    .default("random")
    .describe("By a profile: a Poisson process of that rate, or evenly at that rate."),
  listed: z.string().max(200_000).default("").describe("Times, one a line or separated by commas."),
  listedAs: z
    .enum(["times", "gaps"])
    .default("times")
    .describe("Whether the list holds times from the start or gaps from one arrival to the next."),
  group: expression.default("1").describe("Entities that arrive together."),
  limit: expression.default("").describe("Most arrivals (groups); empty: no limit."),
  until: expression.default("").describe("Time from the start after which none arrive; empty: no limit."),
  sets: z
    .array(z.strictObject({ id, attribute: z.string().max(80).default(""), value: expression.default("0") }))
    .max(60)
    .default([])
    .describe("Attributes given at birth in place of the type's own values."),
  wayOut,
  destination,
});

export const LINE_ORDERS = ["first come", "last come", "smallest first", "largest first"] as const;

/** How a line is kept: its order, who does not join and who gives up. */
const lineSettings = {
  order: z.enum(LINE_ORDERS).default("first come").describe("Who of those in line is next; ties go by who came first."),
  rank: expression
    .default("")
    .describe("What smallest and largest first compare, for each entity when it joins the line."),
  balk: expression
    .default("")
    .describe("Condition under which an entity that would have to wait does not join the line; empty: never."),
  patience: expression
    .default("")
    .describe("Longest time that an entity waits in the line before it gives up; empty: for ever."),
};

const initial = z
  .array(z.strictObject({ id, entityType: z.string().default(""), count: expression.default("1") }))
  .max(100)
  .default([])
  .describe("Entities that are there when a replication starts: they come in at that instant.");

export const queueSchema = z.strictObject({
  kind: z.literal("queue"),
  ...element,
  room: expression.default("no limit").describe("Most entities in line."),
  whenFull,
  line: z
    .array(point)
    .max(60)
    .default([])
    .describe("Bends of the line along which entities stand, from its head backwards, relative to the symbol."),
  ...lineSettings,
  initial,
  wayOut,
  destination,
});

export const AT_BELL = ["finish, then full break", "finish, keep the timetable", "pause at the bell"] as const;
export const ON_BREAKDOWN = ["pause and resume", "start over", "scrap"] as const;
export const BREAKDOWN_CLOCKS = ["clock time", "busy time", "jobs"] as const;
export const WORK_PHASES = ["setup", "work", "teardown"] as const;

const anyOf = z
  .array(z.string())
  .max(20)
  .default([])
  .describe("Ids of resources, any one of which will do, the preferred first.");
const breakdowns = z
  .array(
    z.strictObject({
      id,
      clock: z
        .enum(BREAKDOWN_CLOCKS)
        .default("clock time")
        .describe(
          "What passes from a repair to the next breakdown: time, time at work, or a count of jobs: entities finished, batches where several are worked on together, uses of equipment.",
        ),
      every: expression.default("exponential(20 h)").describe("Time from a repair to the next breakdown."),
      jobs: expression.default("100").describe("Jobs from a repair to the next breakdown, where they are what counts."),
      repair: expression.default("exponential(1 h)").describe("Time to repair."),
      anyOf,
      count: expression.default("1").describe("How many of the resource the repair needs."),
    }),
  )
  .max(20)
  .default([]);
const atBell = z
  .enum(AT_BELL)
  .default("finish, keep the timetable")
  .describe("What becomes of work in progress when the calendar takes capacity away.");
const costs = {
  costBusy: expression.default("").describe("Cost of time at work."),
  costOpen: expression.default("").describe("Cost of time on shift."),
};

export const stationSchema = z.strictObject({
  kind: z.literal("station"),
  ...element,
  capacity: expression.default("1").describe("Entities worked on at once."),
  time: expression.default("exponential(4 min)").describe("Time of work on one entity."),
  room: expression
    .default("auto")
    .describe(
      'Room in the station\'s own line: "no limit", a whole number, or "auto": none when a queue leads here, else no limit.',
    ),
  whenFull,
  ...lineSettings,
  calendar: calendarRef,
  atBell,
  setup: expression.default("").describe("Time to set up before work; empty: none."),
  setupWhen: z.enum(["always", "on change"]).default("always"),
  setupBy: expression
    .default("entity.type")
    .describe("What a changeover goes by: a setup is needed where it differs from the entity before."),
  changeovers: z
    .array(
      z.strictObject({
        id,
        from: expression.default(""),
        to: expression.default(""),
        time: expression.default("10 min"),
      }),
    )
    .max(1000)
    .default([])
    .describe(
      "Setup times from one value to another; empty from or to: any. The first that fits holds; where none does, the time to set up.",
    ),
  teardown: expression.default("").describe("Time to tear down after work; empty: none."),
  needs: z
    .array(
      z.strictObject({
        id,
        anyOf,
        count: expression.default("1"),
        phases: z.array(z.enum(WORK_PHASES)).min(1).default(["work"]),
      }),
    )
    .max(30)
    .default([])
    .describe("Resources that work here needs, all of them at once."),
  keepResources: z
    .boolean()
    .default(false)
    .describe("Resources needed for the next phase too are kept from phase to phase, and not freed between."),
  priority: expression.default("").describe("Who gets a resource first, the highest number first; empty: 0."),
  breakdowns,
  onBreakdown: z
    .enum(ON_BREAKDOWN)
    .default("pause and resume")
    .describe("What becomes of work in progress on a breakdown."),
  batchLeast: expression.default("1").describe("Entities with which work may start."),
  batchMost: expression.default("1").describe("Most entities worked on together."),
  batchWait: expression
    .default("")
    .describe("Longest wait for enough entities; then work starts with those that are there. Empty: no limit."),
  rework: expression
    .default("")
    .describe("Chance, or condition, that the work has to be done again at once; empty: never."),
  ...costs,
  costEach: expression.default("").describe("Cost of each entity finished."),
  initial,
  wayOut,
  destination,
});

export const dwellSchema = z.strictObject({
  kind: z.literal("dwell"),
  ...element,
  time: expression.default("uniform(10 min, 20 min)").describe("Length of stay."),
  wayOut,
  destination,
});

export const gateSchema = z.strictObject({
  kind: z.literal("gate"),
  ...element,
  opens: z.enum(["condition", "signal", "calendar"]).default("condition").describe("What lets entities through."),
  condition: expression
    .default("")
    .describe("Entities pass while this holds; it is looked at again when what it reads changes."),
  signal: z.string().max(60).default("").describe("Id of the element whose every entity that comes in is a signal."),
  calendar: calendarRef,
  release: z
    .enum(["one", "all"])
    .default("all")
    .describe("How many pass when the gate opens: the first in line, or all that wait."),
  wayOut,
  destination,
});

export const joinSchema = z.strictObject({
  kind: z.literal("join"),
  ...element,
  gathers: z.enum(["alike", "onto a carrier"]).default("alike"),
  count: expression.default("2").describe("Entities joined together; onto a carrier: parts for one carrier."),
  match: expression.default("").describe("Only those for which this is equal are joined; empty: any."),
  carrier: z.string().max(60).default("").describe("Id of the entity type that carries."),
  keeps: z.enum(["for good", "to be undone"]).default("for good"),
  makes: z
    .string()
    .max(60)
    .default("")
    .describe("Id of the entity type that goes on; empty: the carrier, or the first of those joined."),
  wayOut,
  destination,
});

export const splitSchema = z.strictObject({
  kind: z.literal("split"),
  ...element,
  does: z
    .enum(["undo", "copy", "cut"])
    .default("undo")
    .describe("Undoes what was joined, makes copies besides, or cuts into pieces."),
  count: expression.default("2").describe("Copies made, or pieces cut into."),
  makes: z.string().max(60).default("").describe("Id of the entity type of copies or pieces; empty: as the entity."),
  wayOut,
  destination,
});

export const junctionSchema = z.strictObject({ kind: z.literal("junction"), ...element, wayOut, destination });

export const departuresSchema = z.strictObject({ kind: z.literal("departures"), ...element });

const pool = {
  count: expression.default("1").describe("How many there are."),
  calendar: calendarRef,
  atBell,
  order: z
    .enum(["first asked", "last asked"])
    .default("first asked")
    .describe("Who is served first of those who ask with the same priority."),
  preempt: z
    .boolean()
    .default(false)
    .describe("Whether work of higher priority takes them away from work of lower priority."),
  ...costs,
};

export const crewSchema = z.strictObject({ kind: z.literal("crew"), ...element, ...pool });
export const equipmentSchema = z.strictObject({ kind: z.literal("equipment"), ...element, ...pool, breakdowns });

export const elementSchema = z.discriminatedUnion("kind", [
  arrivalsSchema,
  queueSchema,
  stationSchema,
  dwellSchema,
  gateSchema,
  joinSchema,
  splitSchema,
  junctionSchema,
  departuresSchema,
  crewSchema,
  equipmentSchema,
]);

export const LINK_TAKES = ["done", "turned away", "scrapped", "parts"] as const;

export const linkSchema = z.strictObject({
  id,
  from: z.string().describe("Id of the element it leaves."),
  to: z.string().describe("Id of the element it leads to."),
  takes: z
    .enum(LINK_TAKES)
    .default("done")
    .describe(
      "Who goes this way: those who are done at the element; those who find it full, do not join its line, or give up waiting; those whose work a breakdown spoils; or the parts or copies that a split sets free.",
    ),
  kind: z
    .enum(["direct", "timed", "walkway"])
    .default("direct")
    .describe("No time, a time, or a length walked at the entity type's speed."),
  time: expression.default("1 min").describe("Time under way, for a timed link."),
  length: expression.default("").describe("Length of a walkway; empty: as drawn."),
  bends: z.array(point).max(60).default([]).describe("Points the link passes, [x, y] in metres."),
  share: expression.default("").describe("Share of entities that take this way; empty on all ways: even shares."),
  condition: expression.default("").describe("Condition under which this way is taken; empty: otherwise."),
  cost: expression.default("").describe("What this way costs, where the cheapest is taken."),
  streams,
});

export const ENTITY_LOOKS = [
  "hull",
  "crate",
  "barrel",
  "drum",
  "pallet",
  "parcel",
  "sheet",
  "person",
  "cart",
  "forklift",
  "truck",
  "boat",
  "tug",
  "picture",
] as const;

export const attributeSchema = z.strictObject({
  name: z.string().regex(/^[\p{L}_][\p{L}\p{N}_]*$/u, "An attribute's name is one word of letters and digits."),
  value: expression.default("0").describe("Value at birth."),
});

export const entityTypeSchema = z.strictObject({
  id,
  name,
  speed: expression.default("1.3 m/s").describe("Speed on walkways."),
  look: z.enum(ENTITY_LOOKS).default("hull"),
  colour: colour.default("#0B6E8A"),
  picture: z
    .strictObject({ file: fileId, format: z.enum(DRAWING_FORMATS).exclude(["dxf"]) })
    .optional()
    .describe("What an entity with the look of a picture looks like."),
  colouring: z
    .enum(["own", "state", "attribute"])
    .default("own")
    .describe("While watching: one colour, by what an entity is doing, or by an attribute."),
  colourAttribute: z.string().max(80).default("").describe("Name of the attribute that gives the colour."),
  bands: z
    .array(z.strictObject({ from: expression, colour }))
    .max(12)
    .default([])
    .describe(
      "Colours by that attribute, each from a value upwards, the values rising; below the first, the type's own.",
    ),
  attributes: z.array(attributeSchema).max(60).default([]),
  streams,
});

const display = {
  id,
  at: point.describe("Upper left corner, [x, y] in metres."),
  title: z.string().max(120).default(""),
};
const shown = expression.describe("What is shown; it may read elements and the clock, and draws nothing.");
const scale = {
  least: z.number().default(0).describe("Where the scale begins, in the unit shown."),
  most: z.number().default(10).describe("Where the scale ends, in the unit shown."),
};
const rows = z
  .array(z.strictObject({ label: z.string().max(80).default(""), value: shown.default("") }))
  .min(1)
  .max(12);

/** What stands on the floor to be read while a design is watched. It changes nothing of a run. */
export const displaySchema = z.discriminatedUnion("kind", [
  z.strictObject({ kind: z.literal("clock"), ...display }),
  z.strictObject({ kind: z.literal("text"), ...display, text: z.string().max(2000).default("Text") }),
  z.strictObject({ kind: z.literal("number"), ...display, value: shown.default("") }),
  z.strictObject({ kind: z.literal("gauge"), ...display, value: shown.default(""), ...scale }),
  z.strictObject({ kind: z.literal("bar"), ...display, value: shown.default(""), ...scale }),
  z.strictObject({ kind: z.literal("table"), ...display, rows }),
  z.strictObject({
    kind: z.literal("chart"),
    ...display,
    rows,
    span: expression.default("1 h").describe("How much of the past is shown."),
  }),
  z.strictObject({
    kind: z.literal("picture"),
    ...display,
    file: fileId,
    format: z.enum(DRAWING_FORMATS).exclude(["dxf"]),
    width: z.number().gt(0).max(1e5).default(5).describe("Metres on the floor."),
  }),
]);

/** Something measured besides what is measured of everything with no set-up. It changes nothing of a run. */
export const customMeasureSchema = z.discriminatedUnion("kind", [
  z.strictObject({
    kind: z.literal("average"),
    id,
    name,
    value: expression.default("").describe("What is averaged over time; it reads elements and draws nothing."),
  }),
  z.strictObject({
    kind: z.literal("ranges"),
    id,
    name,
    value: expression.default(""),
    bounds: z
      .array(expression)
      .min(1)
      .max(20)
      .default(["1", "5"])
      .describe("Rising; the share of time is measured below the first, between each two, and from the last on."),
  }),
  z.strictObject({
    kind: z.literal("condition"),
    id,
    name,
    condition: expression.default("").describe("The share of time in which this holds is measured."),
  }),
  z.strictObject({
    kind: z.literal("group"),
    id,
    name,
    elements: z
      .array(z.string())
      .max(2000)
      .default([])
      .describe("Ids of the elements whose measures are merged, with the right weights."),
  }),
]);

export const designSchema = z.strictObject({
  id,
  name,
  note: z.string().max(4000).default(""),
  copiedFrom: z.string().nullable().default(null).describe("Id of the design this one was copied from."),
  entityTypes: z.array(entityTypeSchema).max(500).default([]),
  elements: z.array(elementSchema).max(20_000).default([]),
  links: z.array(linkSchema).max(40_000).default([]),
  displays: z.array(displaySchema).max(500).default([]),
  measures: z
    .array(customMeasureSchema)
    .max(500)
    .default([])
    .describe("Custom measures, and groups of elements with merged measures."),
});

const timeOfDay = z
  .string()
  .regex(/^([01]\d|2[0-3]):[0-5]\d$|^24:00$/, "Write a time of day as 06:30; the end of a day is 24:00.");

const runSettings = {
  length: expression.describe("Length of a replication."),
  warmUp: expression.describe("Time at the start whose data are discarded."),
  replications: z.int().min(1).max(100_000),
  seed: z.int().min(0).max(Number.MAX_SAFE_INTEGER),
  level: z.number().gt(0).lt(1).describe("Confidence level of intervals."),
  start: z
    .string()
    .regex(/^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}$/, "Write the start as 2026-06-03T08:00.")
    .describe("Calendar date and time at which a replication starts."),
  ends: z
    .enum(["time", "date", "count", "condition"])
    .describe(
      "What ends a replication: its length; a date; so many departures, or a condition, and its length at the latest.",
    ),
  kind: z
    .enum(["terminating", "long"])
    .describe(
      "Replications from start to end; or one long replication, whose measured time is cut into as many batches as there are replications.",
    ),
  nights: z
    .enum(["simulated", "skipped"])
    .describe(
      "Whether the hours outside the operating hours are simulated, or each day follows at once on the one before.",
    ),
  opens: timeOfDay.describe("When a day of operation begins, where nights are skipped."),
  closes: timeOfDay.describe("When a day of operation ends, where nights are skipped."),
  endDate: z
    .string()
    .regex(/^(\d{4}-\d{2}-\d{2}T\d{2}:\d{2})?$/, "Write the end as 2026-06-12T18:00.")
    .describe("When a replication ends, where a date ends it."),
  count: expression.describe("Departures after which a replication ends, where a count ends it."),
  condition: expression.describe("Condition that ends a replication; it is looked at when what it reads changes."),
  mostEntities: z
    .int()
    .min(1)
    .max(10_000_000)
    .describe("Entities in the system at once above which a replication is stopped as out of hand."),
  mostEvents: z
    .int()
    .min(1)
    .max(20_000_000_000)
    .describe("Events after which a replication is stopped as out of hand."),
};

export const runSettingsSchema = z.strictObject({
  length: runSettings.length.default("8 h"),
  warmUp: runSettings.warmUp.default("0 h"),
  replications: runSettings.replications.default(20),
  seed: runSettings.seed.default(1),
  level: runSettings.level.default(0.95),
  start: runSettings.start.default("2026-06-01T08:00"),
  ends: runSettings.ends.default("time"),
  kind: runSettings.kind.default("terminating"),
  nights: runSettings.nights.default("simulated"),
  opens: runSettings.opens.default("06:00"),
  closes: runSettings.closes.default("22:00"),
  endDate: runSettings.endDate.default(""),
  count: runSettings.count.default("1000"),
  condition: runSettings.condition.default(""),
  mostEntities: runSettings.mostEntities.default(1_000_000),
  mostEvents: runSettings.mostEvents.default(20_000_000_000),
});

/** Some of the run settings. It has no defaults: what is left out stays as it is. */
export const changedRunSettingsSchema = z.strictObject(runSettings).partial();

const date = z.string().regex(/^\d{4}-\d{2}-\d{2}$/, "Write a date as 2026-06-24.");
const block = { from: timeOfDay.default("08:00"), to: timeOfDay.default("16:00"), value: expression.default("all") };

/** A number over time: capacity by shifts, or the rate of arrivals. Times not in any row give 0. */
export const calendarSchema = z.strictObject({
  id,
  name,
  gives: z
    .enum(["capacity", "rate"])
    .default("capacity")
    .describe("Capacity: each value is all, or a count. Rate: each is a rate of arrivals, such as 12/h."),
  repeats: z
    .enum(["weeks", "pattern"])
    .default("weeks")
    .describe("By days of the week, or by a pattern of durations from the start of the run."),
  weeks: z.int().min(1).max(52).default(1).describe("Weeks after which it begins again."),
  firstWeek: z
    .union([date, z.literal("")])
    .default("")
    .describe("A date in its first week; empty: the week in which the run starts."),
  rows: z
    .array(
      z.strictObject({
        week: z.int().min(1).max(52).default(1),
        days: z.array(z.int().min(0).max(6)).min(1).max(7).default([0, 1, 2, 3, 4]),
        ...block,
      }),
    )
    .max(2000)
    .default([])
    .describe("Days count from Monday, 0. A row whose end is not after its start goes on past midnight."),
  exceptions: z
    .array(
      z.strictObject({
        date,
        note: z.string().max(200).default(""),
        rows: z.array(z.strictObject(block)).max(100).default([]),
      }),
    )
    .max(1000)
    .default([])
    .describe("Dates on which other rows hold, from midnight to midnight; none: nothing all day."),
  pattern: z
    .array(z.strictObject({ duration: expression.default("8 h"), value: expression.default("all") }))
    .max(2000)
    .default([]),
  fills: expression
    .default("24 h")
    .describe("What the durations of the pattern should come to; what they leave open gives 0."),
  after: z
    .enum(["repeat", "hold", "stop"])
    .default("repeat")
    .describe("After the pattern: again from its start, the last value for ever, or 0."),
});

const planStyle = { label: z.string().max(120).default("") };
export const planShapeSchema = z.discriminatedUnion("shape", [
  z.strictObject({ shape: z.literal("wall"), points: z.array(point).min(2).max(2000), ...planStyle }),
  z.strictObject({ shape: z.literal("water"), points: z.array(point).min(3).max(2000), ...planStyle }),
  z.strictObject({ shape: z.literal("door"), points: z.array(point).length(2), ...planStyle }),
  z.strictObject({ shape: z.literal("vessel"), points: z.array(point).min(3).max(2000), ...planStyle }),
  z.strictObject({
    shape: z.literal("place name"),
    at: point,
    text: z.string().max(120),
    size: z.number().min(0.1).max(1000).default(1),
  }),
]);

export const drawingLayerSchema = z.strictObject({
  visible: z.boolean().optional().describe("Missing: as the file says."),
  colour: colour.optional().describe("Missing: as the file says."),
  opacity: z.number().min(0).max(1).optional().describe("Missing: that of the drawing."),
});

export const drawingSchema = z.strictObject({
  id,
  name,
  file: fileId,
  format: z.enum(DRAWING_FORMATS),
  at: point.describe("Where the middle of the drawing lies, [x, y] in metres."),
  rotation: z.number().min(-360).max(360).default(0).describe("Degrees, clockwise, about the middle."),
  metresPerUnit: z
    .number()
    .gt(0)
    .max(1e6)
    .describe("Metres that one unit of the drawing stands for; the unit of a picture is its pixel."),
  opacity: z.number().min(0).max(1).default(0.6),
  visible: z.boolean().default(true),
  locked: z.boolean().default(false),
  layers: z
    .record(z.string().max(400), drawingLayerSchema)
    .default({})
    .describe("What differs from the file, by layer."),
});

export const studySchema = z.strictObject({
  format: z.literal(FORMAT),
  version: z.literal(VERSION),
  name,
  question: z.string().max(4000).default(""),
  units: z
    .strictObject({
      time: z.enum(["s", "min", "h", "d"]).default("min"),
      length: z.enum(["m", "ft", "in"]).default("m"),
    })
    .prefault({})
    .describe("Units figures are shown in; never changes what is stored."),
  run: runSettingsSchema.prefault({}),
  comparison: z
    .strictObject({ designs: z.array(z.string()).default([]), measures: z.array(z.string()).default([]) })
    .prefault({})
    .describe("What the Compare stage shows: design ids, the first being the baseline, and measure keys."),
  plan: z.array(planShapeSchema).max(20_000).default([]).describe("The drawing under the elements."),
  calendars: z
    .array(calendarSchema)
    .max(500)
    .default([])
    .describe("Shift calendars and demand profiles, for all designs."),
  drawings: z.array(drawingSchema).max(100).default([]).describe("Background drawings, the lowest first."),
  designs: z.array(designSchema).min(1, "A study needs at least one design.").max(500),
  files: z
    .record(fileId, z.base64())
    .default({})
    .describe(
      "Contents of the drawings' files, so that a study file is whole by itself. An open study keeps them apart.",
    ),
});

export type Point = z.infer<typeof point>;
export type Study = z.infer<typeof studySchema>;
export type Design = z.infer<typeof designSchema>;
export type Element = z.infer<typeof elementSchema>;
export type ElementKindName = Element["kind"];
export type ElementOf<K extends ElementKindName> = Extract<Element, { kind: K }>;
export type Link = z.infer<typeof linkSchema>;
export type EntityType = z.infer<typeof entityTypeSchema>;
export type Calendar = z.infer<typeof calendarSchema>;
export type RunSettings = z.infer<typeof runSettingsSchema>;
export type CustomMeasure = z.infer<typeof customMeasureSchema>;
export type Display = z.infer<typeof displaySchema>;
export type Drawing = z.infer<typeof drawingSchema>;
export type PlanShape = z.infer<typeof planShapeSchema>;
export type WayOut = (typeof WAYS_OUT)[number];

/** The JSON Schema (2020-12) of a study file as a person may write it: keys with defaults may be left out. */
export const studyJsonSchema = (): object => ({
  $id: "busy-harbor-study-1.schema.json",
  title: "Busy Harbor study, version 1",
  ...z.toJSONSchema(studySchema, { io: "input" }),
});
