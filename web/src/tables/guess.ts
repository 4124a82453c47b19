import { columnSchema, type Column, findUnit, nameKey, unitSymbols } from "@busy-harbor/core";
import { newId } from "../state/edits.ts";

/** Names that cells may be of. */
export interface Known {
  readonly elements: readonly string[];
  readonly entityTypes: readonly string[];
}

const NUMBER = /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i;
const PERCENT = /^[+-]?\d+(\.\d+)?\s*%$/;
const QUANTITY = /^[+-]?(?:\d+\.?\d*|\.\d+)\s*([a-zA-Z]+)$/;
const HOURS = /^\d+:[0-5]\d(:[0-5]\d)?$/;
const DATE = /^\d{4}-\d{2}-\d{2}([T ]\d{1,2}:\d{2}(:\d{2})?)?$/;
const YES_NO = /^(yes|no|true|false)$/i;
/** A unit behind a name, as in "Time (min)" or "Weight [kg]". */
const UNIT_IN_NAME = /^(.*?)\s*[([]([^)\]]+)[)\]]$/;

/** What a column is likely to hold, by its name and its cells. A person can say otherwise. */
export function guessColumn(label: string, cells: readonly string[], known: Known): Column {
  const filled = cells.map((cell) => cell.trim()).filter((cell) => cell !== "");
  const [, bare, unitText] = UNIT_IN_NAME.exec(label.trim()) ?? [];
  const unit = unitText !== undefined && isUnit(unitText) ? unitText : "";
  const name = (unit === "" ? label.trim() : bare) || "Column";
  const all = (pattern: RegExp) => filled.length > 0 && filled.every((cell) => pattern.test(cell));
  const among = (names: readonly string[]) => {
    const keys = new Set(names.map(nameKey));
    return filled.length > 0 && filled.every((cell) => keys.has(nameKey(cell)));
  };
  const units = new Set(filled.map((cell) => QUANTITY.exec(cell)?.[1] ?? ""));
  const [only] = units;
  const holds = (what: Column["holds"], of = "") =>
    columnSchema.parse({ id: newId("column"), name: name.slice(0, 80), holds: what, unit: of });
  if (all(NUMBER)) return holds("number", unit);
  if (all(PERCENT)) return holds("number");
  if (all(HOURS)) return holds("duration", "min");
  if (all(DATE)) return holds("date");
  if (all(YES_NO)) return holds("yes or no");
  if (filled.length > 0 && units.size === 1 && only !== "" && findUnit(only)) return holds("number", only);
  if (among(known.entityTypes)) return holds("entity type");
  if (among(known.elements)) return holds("element");
  return unit === "" ? holds("text") : holds("number", unit);
}

const isUnit = (text: string): boolean =>
  text.split(/[/*]/).every((part) => part === "1" || findUnit(part.trim()) !== undefined);

/** Units offered for a column; others may be written. */
export const USUAL_UNITS = unitSymbols();

const namesAll = (line: readonly string[]): boolean =>
  line.every((cell) => cell.trim() !== "" && !isFigure(cell)) && new Set(line.map(nameKey)).size === line.length;
const isFigure = (cell: string): boolean => NUMBER.test(cell.trim()) || PERCENT.test(cell.trim());

/**
 * How many of the first lines name columns: one that has no number and no name twice, with something below it; or two,
 * where the upper groups the names below, which only together are told apart.
 */
export function headerLines([first, second, ...rest]: readonly (readonly string[])[]): number {
  if (!second) return 0;
  if (namesAll(first)) return 1;
  const groups = first.filter((cell) => cell.trim() !== "");
  const isHeading = groups.length > 0 && !first.some(isFigure) && !second.some(isFigure) && rest.length > 0;
  const below = rest[0]?.some(isFigure) ?? false;
  let heading = "";
  const together = second.map((cell, c) => `${(heading = first[c] || heading)} ${cell}`);
  return isHeading && below && namesAll(together) ? 2 : 0;
}
