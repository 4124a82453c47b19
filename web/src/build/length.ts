import {
  checkExpression,
  displayUnit,
  formatNumber,
  isNumber,
  LENGTH,
  makeScope,
  sameDimension,
  type Study,
} from "@busy-harbor/core";

const scope = makeScope(new Map(), () => 0);

/** Farthest from the origin that the study file takes. */
const MOST_METRES = 1e7;

/**
 * Metres of a typed length; a number without a unit is in the study's unit of length. Undefined when it is none, or
 * longer than a study file takes.
 */
export function readLength(text: string, units: Study["units"]): number | undefined {
  const result = checkExpression(text, scope);
  if (!result.ok) return undefined;
  const { type, constant } = result.checked;
  if (type.kind !== "number" || constant === undefined || !Number.isFinite(constant)) return undefined;
  const metres = sameDimension(type.dimension, LENGTH)
    ? constant
    : isNumber(type.dimension)
      ? constant * displayUnit(LENGTH, units).factor
      : Infinity;
  return Math.abs(metres) <= MOST_METRES ? metres : undefined;
}

/** A length as it is shown for editing, such as "12.5 m". */
export function showLength(metres: number, units: Study["units"], digits = 7): string {
  const { symbol, factor } = displayUnit(LENGTH, units);
  return `${formatNumber(metres / factor, digits)} ${symbol}`;
}
