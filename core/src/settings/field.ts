import type { ValueType } from "../expression/index.ts";

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
  /**
   * Any number will do, whatever its unit; with "value" also a text, an entity type or yes or no; "anything" but a
   * table or a list; of "collection" those and a family.
   */
  readonly any?: "number" | "value" | "anything" | "collection";
  /** It is no value: it names something that is set, or gives a new name to something. */
  readonly names?: "target" | "new";
  /** It is of the type of what a setting beside it names. */
  readonly like?: string;
  /** A chance from 0 to 1, or a condition. */
  readonly chance?: boolean;
  /** It may say `who`: the row of a member of the resources that are named beside it. */
  readonly knowsWho?: boolean;
  /** Whether `entity` may be used. */
  readonly entity?: boolean;
  /** Bounds of a fixed value, in SI. */
  readonly least?: number;
  readonly above?: number;
  /**
   * Whether the element (or the row of a list) as it is set has a use for it; always, unless told. A setting without
   * use is neither shown nor checked.
   */
  readonly used?: (of: Values) => boolean;
}

/** An element, or a row of a list, as its settings are asked whether they are used. */
export type Values = Readonly<Record<string, unknown>>;
