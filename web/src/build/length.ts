import { checkExpression, displayUnit, formatNumber, isNumber, LENGTH, makeScope, sameDimension, type Study } from "@busy-harbor/core";

const scope = makeScope(new Map(), () => 0);

/** Metres of a typed length; a number without a unit is in the study's unit of length. Undefined when it is none. */
export function readLength(text: string, units: Study["units"]): number | undefined {
  const result = checkExpression(text, scope);
  if (!result.ok) return undefined;
  const { type, constant } = result.checked;
  if (type.kind !== "number" || constant === undefined || !Number.isFinite(constant)) return undefined;
  if (sameDimension(type.dimension, LENGTH)) return constant;
  return isNumber(type.dimension) ? constant * displayUnit(LENGTH, units).factor : undefined;
}

/** A length as it is shown for editing, such as "12.5 m". */
export function showLength(metres: number, units: Study["units"]): string {
  const { symbol, factor } = displayUnit(LENGTH, units);
  return `${formatNumber(metres / factor, 7)} ${symbol}`;
}
