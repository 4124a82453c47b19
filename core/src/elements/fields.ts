import { LENGTH, MONEY, NUMBER, SPEED, TIME } from "../quantity/index.ts";
import { numberOf, PLAIN, type ValueType, YES_NO } from "../expression/index.ts";

/** A setting that holds an expression: what it is called, what it wants, and what it may say besides. */
export interface FieldSpec {
  readonly name: string;
  readonly label: string;
  readonly type: ValueType;
  readonly help: string;
  /** Words accepted in place of an expression, such as "no limit". The empty text counts where `optional`. */
  readonly words?: readonly string[];
  readonly optional?: boolean;
  /** Must not depend on the running model and must not draw. */
  readonly fixed?: boolean;
  /** Must not draw: it is read more than once. */
  readonly steady?: boolean;
  /** A whole number within these bounds. */
  readonly whole?: readonly [least: number, most: number];
  /** Any number will do, whatever its unit; with "text" also a text, an entity type or yes or no. */
  readonly any?: "number" | "value";
  /** A chance from 0 to 1, or a condition. */
  readonly chance?: boolean;
  /** Whether `entity` may be used. */
  readonly entity?: boolean;
  /** Bounds of a fixed value, in SI. */
  readonly least?: number;
  readonly above?: number;
  /**
   * Whether the element (or the row of a list) as it is set has a use for it; always, unless told. A setting without
   * use is neither shown nor checked.
   */
  readonly used?: (of: Readonly<Record<string, unknown>>) => boolean;
}

/** A list of rows of settings, such as the breakdowns of a station. Rows are known by their `id`. */
export interface ListSpec {
  readonly name: string;
  /** What one row is called. */
  readonly one: string;
  readonly fields: readonly FieldSpec[];
  readonly used?: (element: Readonly<Record<string, unknown>>) => boolean;
}

const time = numberOf(TIME);

export const timeField = (name: string, label: string, help: string, more: Partial<FieldSpec> = {}): FieldSpec => ({
  name,
  label,
  help,
  type: time,
  least: 0,
  entity: true,
  ...more,
});

export const countField = (
  name: string,
  label: string,
  help: string,
  whole: readonly [number, number],
  more: Partial<FieldSpec> = {},
): FieldSpec => ({
  name,
  label,
  help,
  type: PLAIN,
  whole,
  ...more,
});

export const costField = (name: string, label: string, help: string, per: "time" | "piece"): FieldSpec => ({
  name,
  label,
  help,
  type: numberOf(per === "time" ? [-1, 0, 0, 1] : MONEY),
  optional: true,
  fixed: true,
  least: 0,
});

export const LINK_FIELDS: Readonly<Record<"time" | "length" | "share" | "condition" | "cost", FieldSpec>> = {
  time: timeField("time", "Time", "Time under way."),
  length: {
    name: "length",
    label: "Length",
    help: "Empty: as drawn.",
    type: numberOf(LENGTH),
    optional: true,
    fixed: true,
    least: 0,
  },
  share: {
    name: "share",
    label: "Share",
    help: "Share of entities that take this way, such as 20 %.",
    type: numberOf(NUMBER),
    optional: true,
    entity: true,
    least: 0,
  },
  condition: {
    name: "condition",
    label: "Condition",
    help: "Taken when this holds; empty: otherwise.",
    type: YES_NO,
    optional: true,
    entity: true,
  },
  cost: {
    name: "cost",
    label: "Cost of the way",
    help: "The way of least cost is taken; any number, such as Crane.queue.length * 2.",
    type: PLAIN,
    any: "number",
    entity: true,
  },
};

/** Where an entity goes when its way out is the element named by an expression. */
export const DESTINATION_FIELD: FieldSpec = {
  name: "destination",
  label: "Goes to",
  help: "An element that a link leads to, such as if(entity.size > 3, Crane, Ramp).",
  type: { kind: "element" },
  entity: true,
  used: (element) => element.wayOut === "named",
};

/** Entities that are in a queue or station when a replication starts. */
export const INITIAL_LIST: ListSpec = {
  name: "initial",
  one: "entity type at the start",
  fields: [
    {
      name: "count",
      label: "How many",
      help: "Entities that are there when a replication starts.",
      type: PLAIN,
      fixed: true,
      whole: [0, 1e6],
    },
  ],
};

export const SPEED_FIELD: FieldSpec = {
  name: "speed",
  label: "Speed",
  help: "Speed on walkways.",
  type: numberOf(SPEED),
  above: 0,
  entity: true,
};

export const RUN_FIELDS: readonly FieldSpec[] = [
  { name: "length", label: "Length", help: "Length of a replication.", type: time, fixed: true, above: 0 },
  {
    name: "count",
    label: "Departures",
    help: "Departures after which a replication ends.",
    type: PLAIN,
    fixed: true,
    whole: [1, 1e12],
    used: ({ ends }) => ends === "count",
  },
  {
    name: "condition",
    label: "Ends when",
    help: "Such as Dock.done >= 100 or Yard.length = 0.",
    type: YES_NO,
    steady: true,
    used: ({ ends }) => ends === "condition",
  },
  {
    name: "warmUp",
    label: "Warm-up",
    help: "Time at the start whose data are discarded.",
    type: time,
    fixed: true,
    least: 0,
  },
];
