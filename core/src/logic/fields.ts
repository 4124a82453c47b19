import { numberOf, PLAIN } from "../expression/index.ts";
import { TIME } from "../quantity/index.ts";
import { expression, type ExpressionSetting } from "../settings/setting.ts";

type More = Parameters<typeof expression>[3];

/** What a step sets. */
export const target = (label: string, help: string, more: More = {}): ExpressionSetting =>
  expression(label, help, PLAIN, { entity: true, names: "target", ...more });

/** A name that a step gives to a value. */
export const name = (label: string, help: string, more: More = {}): ExpressionSetting =>
  expression(label, help, PLAIN, { names: "new", ...more });

/** A value of any kind. */
export const anyValue = (label: string, help: string, more: More = {}): ExpressionSetting =>
  expression(label, help, PLAIN, { any: "anything", entity: true, ...more });

/** A number of any unit. */
export const anyNumber = (label: string, help: string, more: More = {}): ExpressionSetting =>
  expression(label, help, PLAIN, { any: "number", entity: true, ...more });

/** A time of 0 or more. */
export const stepTime = (label: string, help: string, more: More = {}): ExpressionSetting =>
  expression(label, help, numberOf(TIME), { least: 0, entity: true, ...more });

/** An element, by an expression. */
export const anElement = (label: string, help: string, more: More = {}): ExpressionSetting =>
  expression(label, help, { kind: "element" }, { entity: true, ...more });

/** An entity that is at hand under a name; empty: the one that the steps are done for. */
export const anEntity = (label: string, help: string, more: More = {}): ExpressionSetting =>
  expression(label, help, { kind: "entity" }, { entity: true, optional: true, ...more });
