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
const point = z.tuple([z.number().min(-1e7).max(1e7), z.number().min(-1e7).max(1e7)]).describe("[x, y] in metres, y downwards.");
const colour = z.string().regex(/^#[0-9a-fA-F]{6}$/);
const streams = z
  .record(z.string(), z.int().min(0).max(1e9))
  .default({})
  .describe("Random stream of each setting that may draw, by setting; given out when missing and kept in copies.");

/** A file's name in a study: the SHA-256 of its bytes, so that equal files are kept once. */
export const fileId = z.string().regex(/^[0-9a-f]{64}$/, "A file is named by the SHA-256 of its bytes, 64 hexadecimal digits.");

export const DRAWING_FORMATS = ["dxf", "svg", "png", "jpeg"] as const;

const element = {
  id,
  name,
  at: point.describe("Middle of the symbol, [x, y] in metres."),
  group: z.string().max(60).default("").describe("Elements of one group are selected and moved together; empty: none."),
  locked: z.boolean().default(false).describe("Stays where it is, and is not deleted, until unlocked."),
  streams,
};

export const WAYS_OUT = ["share", "shortest line", "in turn", "first free", "condition"] as const;
const wayOut = z.enum(WAYS_OUT).default("share").describe("How an entity chooses among several links out.");

const whenFull = z.enum(["wait", "lose"]).default("wait").describe("What an entity does that finds no room: waits where it is, or leaves the system and is counted as lost.");

export const arrivalsSchema = z.strictObject({
  kind: z.literal("arrivals"),
  ...element,
  entityType: z.string().default("").describe("Id of the entity type that arrives."),
  between: expression.default("exponential(5 min)").describe("Time between arrivals."),
  first: expression.default("").describe("Time of the first arrival; empty: after one time between arrivals."),
  group: expression.default("1").describe("Entities that arrive together."),
  limit: expression.default("").describe("Most arrivals (groups); empty: no limit."),
  wayOut,
});

export const queueSchema = z.strictObject({
  kind: z.literal("queue"),
  ...element,
  room: expression.default("no limit").describe("Most entities in line."),
  whenFull,
  line: z.array(point).max(60).default([]).describe("Bends of the line along which entities stand, from its head backwards, relative to the symbol."),
  wayOut,
});

export const LINE_ORDERS = ["first come", "last come", "smallest first", "largest first"] as const;

export const stationSchema = z.strictObject({
  kind: z.literal("station"),
  ...element,
  capacity: expression.default("1").describe("Entities worked on at once."),
  time: expression.default("exponential(4 min)").describe("Time of work on one entity."),
  room: expression
    .default("auto")
    .describe('Room in the station\'s own line: "no limit", a whole number, or "auto": none when a queue leads here, else no limit.'),
  whenFull,
  order: z.enum(LINE_ORDERS).default("first come").describe("Who of those in the station's own line is next; ties go by who came first."),
  rank: expression.default("").describe("What smallest and largest first compare, for each entity when it joins the line."),
  balk: expression.default("").describe("Condition under which an entity that would have to wait does not join the line; empty: never."),
  patience: expression.default("").describe("Longest time that an entity waits in the line before it gives up; empty: for ever."),
  wayOut,
});

export const dwellSchema = z.strictObject({
  kind: z.literal("dwell"),
  ...element,
  time: expression.default("uniform(10 min, 20 min)").describe("Length of stay."),
  wayOut,
});

export const departuresSchema = z.strictObject({ kind: z.literal("departures"), ...element });

export const elementSchema = z.discriminatedUnion("kind", [arrivalsSchema, queueSchema, stationSchema, dwellSchema, departuresSchema]);

export const linkSchema = z.strictObject({
  id,
  from: z.string().describe("Id of the element it leaves."),
  to: z.string().describe("Id of the element it leads to."),
  takes: z.enum(["done", "turned away"]).default("done").describe("Who goes this way: those who are done at the element, or those who find it full, do not join its line, or give up waiting."),
  kind: z.enum(["direct", "timed", "walkway"]).default("direct").describe("No time, a time, or a length walked at the entity type's speed."),
  time: expression.default("1 min").describe("Time under way, for a timed link."),
  length: expression.default("").describe("Length of a walkway; empty: as drawn."),
  bends: z.array(point).max(60).default([]).describe("Points the link passes, [x, y] in metres."),
  share: expression.default("").describe("Share of entities that take this way; empty on all ways: even shares."),
  condition: expression.default("").describe("Condition under which this way is taken; empty: otherwise."),
  streams,
});

export const ENTITY_LOOKS = ["hull", "crate", "barrel", "drum", "pallet", "parcel", "sheet", "person", "cart", "forklift", "truck", "boat", "tug", "picture"] as const;

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
  colouring: z.enum(["own", "state", "attribute"]).default("own").describe("While watching: one colour, by what an entity is doing, or by an attribute."),
  colourAttribute: z.string().max(80).default("").describe("Name of the attribute that gives the colour."),
  bands: z
    .array(z.strictObject({ from: expression, colour }))
    .max(12)
    .default([])
    .describe("Colours by that attribute, each from a value upwards, the values rising; below the first, the type's own."),
  attributes: z.array(attributeSchema).max(60).default([]),
  streams,
});

const display = { id, at: point.describe("Upper left corner, [x, y] in metres."), title: z.string().max(120).default("") };
const shown = expression.describe("What is shown; it may read elements and the clock, and draws nothing.");
const scale = { least: z.number().default(0).describe("Where the scale begins, in the unit shown."), most: z.number().default(10).describe("Where the scale ends, in the unit shown.") };
const rows = z.array(z.strictObject({ label: z.string().max(80).default(""), value: shown.default("") })).min(1).max(12);

/** What stands on the floor to be read while a design is watched. It changes nothing of a run. */
export const displaySchema = z.discriminatedUnion("kind", [
  z.strictObject({ kind: z.literal("clock"), ...display }),
  z.strictObject({ kind: z.literal("text"), ...display, text: z.string().max(2000).default("Text") }),
  z.strictObject({ kind: z.literal("number"), ...display, value: shown.default("") }),
  z.strictObject({ kind: z.literal("gauge"), ...display, value: shown.default(""), ...scale }),
  z.strictObject({ kind: z.literal("bar"), ...display, value: shown.default(""), ...scale }),
  z.strictObject({ kind: z.literal("table"), ...display, rows }),
  z.strictObject({ kind: z.literal("chart"), ...display, rows, span: expression.default("1 h").describe("How much of the past is shown.") }),
  z.strictObject({ kind: z.literal("picture"), ...display, file: fileId, format: z.enum(DRAWING_FORMATS).exclude(["dxf"]), width: z.number().gt(0).max(1e5).default(5).describe("Metres on the floor.") }),
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
});

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
};

export const runSettingsSchema = z.strictObject({
  length: runSettings.length.default("8 h"),
  warmUp: runSettings.warmUp.default("0 h"),
  replications: runSettings.replications.default(20),
  seed: runSettings.seed.default(1),
  level: runSettings.level.default(0.95),
  start: runSettings.start.default("2026-06-01T08:00"),
});

/** Some of the run settings. It has no defaults: what is left out stays as it is. */
export const changedRunSettingsSchema = z.strictObject(runSettings).partial();

const planStyle = { label: z.string().max(120).default("") };
export const planShapeSchema = z.discriminatedUnion("shape", [
  z.strictObject({ shape: z.literal("wall"), points: z.array(point).min(2).max(2000), ...planStyle }),
  z.strictObject({ shape: z.literal("water"), points: z.array(point).min(3).max(2000), ...planStyle }),
  z.strictObject({ shape: z.literal("door"), points: z.array(point).length(2), ...planStyle }),
  z.strictObject({ shape: z.literal("vessel"), points: z.array(point).min(3).max(2000), ...planStyle }),
  z.strictObject({ shape: z.literal("place name"), at: point, text: z.string().max(120), size: z.number().min(0.1).max(1000).default(1) }),
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
  metresPerUnit: z.number().gt(0).max(1e6).describe("Metres that one unit of the drawing stands for; the unit of a picture is its pixel."),
  opacity: z.number().min(0).max(1).default(0.6),
  visible: z.boolean().default(true),
  locked: z.boolean().default(false),
  layers: z.record(z.string().max(400), drawingLayerSchema).default({}).describe("What differs from the file, by layer."),
});

export const studySchema = z.strictObject({
  format: z.literal(FORMAT),
  version: z.literal(VERSION),
  name,
  question: z.string().max(4000).default(""),
  units: z
    .strictObject({ time: z.enum(["s", "min", "h", "d"]).default("min"), length: z.enum(["m", "ft", "in"]).default("m") })
    .prefault({})
    .describe("Units figures are shown in; never changes what is stored."),
  run: runSettingsSchema.prefault({}),
  comparison: z
    .strictObject({ designs: z.array(z.string()).default([]), measures: z.array(z.string()).default([]) })
    .prefault({})
    .describe("What the Compare stage shows: design ids, the first being the baseline, and measure keys."),
  plan: z.array(planShapeSchema).max(20_000).default([]).describe("The drawing under the elements."),
  drawings: z.array(drawingSchema).max(100).default([]).describe("Background drawings, the lowest first."),
  designs: z.array(designSchema).min(1, "A study needs at least one design.").max(500),
  files: z
    .record(fileId, z.base64())
    .default({})
    .describe("Contents of the drawings' files, so that a study file is whole by itself. An open study keeps them apart."),
});

export type Point = z.infer<typeof point>;
export type Study = z.infer<typeof studySchema>;
export type Design = z.infer<typeof designSchema>;
export type Element = z.infer<typeof elementSchema>;
export type ElementKindName = Element["kind"];
export type ElementOf<K extends ElementKindName> = Extract<Element, { kind: K }>;
export type Link = z.infer<typeof linkSchema>;
export type EntityType = z.infer<typeof entityTypeSchema>;
export type RunSettings = z.infer<typeof runSettingsSchema>;
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
