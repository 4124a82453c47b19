import type {
  CustomMeasure,
  Design,
  Display,
  Element,
  EntityType,
  Link,
  RunSettings,
  Study,
} from "../document/schema.ts";
import type { Checked } from "../expression/index.ts";
import type { DayClock, Timetable } from "../timetable/index.ts";

/** An element with its place in the network. */
export interface Node<E extends Element = Element> {
  readonly index: number;
  readonly element: E;
  /** Ways of those who are done. */
  readonly out: readonly Way[];
  /** The way of those who are turned away; without one they leave the system. */
  readonly turnedAway: Way | undefined;
  /** The way of those whose work a breakdown spoils. */
  readonly scrapped: Way | undefined;
  /** The way of parts or copies that a split sets free; without one they go with the others. */
  readonly parts: Way | undefined;
  readonly in: readonly Way[];
  /**
   * Checked settings by field, those of a list's row as `breakdowns.b1.repair`; a word such as "no limit" or an empty
   * setting has none.
   */
  readonly settings: ReadonlyMap<string, Checked>;
}

/** A link with its ends. */
export interface Way {
  readonly index: number;
  readonly link: Link;
  readonly from: number;
  readonly to: number;
  /** Metres along the drawn line. */
  readonly drawnLength: number;
  readonly settings: ReadonlyMap<string, Checked>;
}

export interface TypeModel {
  readonly index: number;
  readonly type: EntityType;
  readonly speed: Checked | undefined;
  /** In the order they are set at birth; `slot` is the column. */
  readonly attributes: ReadonlyArray<{ readonly slot: number; readonly value: Checked; readonly stream: number }>;
  /** Where its colour goes by an attribute: the column, and the value from which each band begins. */
  readonly bands: { readonly slot: number; readonly from: readonly number[] } | undefined;
}

/** A display with what it shows, in order; undefined where an expression cannot be read. */
export interface DisplayModel {
  readonly display: Display;
  readonly values: ReadonlyArray<Checked | undefined>;
  /** Seconds of the past that a chart shows. */
  readonly span: number | undefined;
}

/** A custom measure with its expressions; absent where they cannot be read. */
export interface CustomModel {
  readonly measure: CustomMeasure;
  readonly value?: Checked;
  /** Rising. */
  readonly bounds: readonly number[];
  /** Indices of the elements of a group. */
  readonly elements: readonly number[];
}

/** A design that has been read: names resolved, expressions checked. What checks and lowering work on. */
export interface Model {
  readonly study: Study;
  readonly design: Design;
  readonly settings: RunSettings;
  readonly length: number;
  readonly warmUp: number;
  /** What may end a replication before its length: so many departures, or a condition. */
  readonly stop: { readonly count?: number; readonly condition?: Checked };
  readonly custom: readonly CustomModel[];
  /** Seconds from midnight to the start. */
  readonly startOfDay: number;
  /** Tells the hours of days from running time. */
  readonly days: DayClock;
  readonly nodes: readonly Node[];
  readonly ways: readonly Way[];
  readonly types: readonly TypeModel[];
  readonly displays: readonly DisplayModel[];
  /** By the calendar's id; one that cannot be read has none. */
  readonly timetables: ReadonlyMap<string, Timetable>;
  readonly attributeCount: number;
  /** Column of each attribute, by its name's key. */
  readonly attributeSlots: ReadonlyMap<string, number>;
  /** Texts by their interned number. */
  readonly texts: readonly string[];
}

/** The stream a setting draws from. */
export const streamOf = (owner: { readonly streams: Readonly<Record<string, number>> }, setting: string): number =>
  owner.streams[setting] ?? 0;
