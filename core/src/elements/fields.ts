import { LENGTH, NUMBER, SPEED, TIME } from "../quantity/index.ts";
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
  /** A whole number within these bounds. */
  readonly whole?: readonly [least: number, most: number];
  /** Any number will do, whatever its unit. */
  readonly anyNumber?: boolean;
  /** Seldom set: folded away on the card until it is. */
  readonly rare?: boolean;
  /** Whether `entity` may be used. */
  readonly entity?: boolean;
  /** Bounds of a fixed value, in SI. */
  readonly least?: number;
  readonly above?: number;
}

const time = numberOf(TIME);

export const timeField = (name: string, label: string, help: string, more: Partial<FieldSpec> = {}): FieldSpec => ({
  name, label, help, type: time, least: 0, entity: true, ...more,
});

export const countField = (name: string, label: string, help: string, whole: readonly [number, number], more: Partial<FieldSpec> = {}): FieldSpec => ({
  name, label, help, type: PLAIN, whole, ...more,
});

export const LINK_FIELDS: Readonly<Record<"time" | "length" | "share" | "condition", FieldSpec>> = {
  time: timeField("time", "Time", "Time under way."),
  length: { name: "length", label: "Length", help: "Empty: as drawn.", type: numberOf(LENGTH), optional: true, fixed: true, least: 0 },
  share: { name: "share", label: "Share", help: "Share of entities that take this way, such as 20 %.", type: numberOf(NUMBER), optional: true, entity: true, least: 0 },
  condition: { name: "condition", label: "Condition", help: "Taken when this holds; empty: otherwise.", type: YES_NO, optional: true, entity: true },
};

export const SPEED_FIELD: FieldSpec = { name: "speed", label: "Speed", help: "Speed on walkways.", type: numberOf(SPEED), above: 0, entity: true };

export const RUN_FIELDS: readonly FieldSpec[] = [
  { name: "length", label: "Length", help: "Length of a replication.", type: time, fixed: true, above: 0 },
  { name: "warmUp", label: "Warm-up", help: "Time at the start whose data are discarded.", type: time, fixed: true, least: 0 },
];
