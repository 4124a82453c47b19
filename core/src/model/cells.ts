import type { ValueType } from "../expression/index.ts";
import type { Model } from "./model.ts";
import { dimensionSymbol, formatDuration, formatNumber, sameDimension, TIME } from "../quantity/index.ts";
import { serialOf } from "./sources.ts";

/** What stands in a cell of a table that is written: a number in SI units, or a text. */
export type Cell = string | number;

/** The name of a column with the unit of its numbers, `Weight (kg)`. */
export function columnHead(name: string, type: ValueType): string {
  const symbol = type.kind === "number" ? dimensionSymbol(type.dimension) : "1";
  return symbol === "1" ? name : `${name} (${symbol})`;
}

/** A value of a running model as it is written into a table; empty where there is none. */
export function cellOf(model: Model, value: number, type: ValueType): Cell {
  if (Number.isNaN(value)) return "";
  switch (type.kind) {
    case "text":
      return model.texts[value] ?? "";
    case "yesNo":
      return value === 0 ? "no" : "yes";
    case "entityType":
      return model.types[value]?.type.name ?? "";
    case "element":
      return model.nodes[value]?.element.name ?? "";
    case "row": {
      const table = model.tables.find(({ id }) => id === type.table.id);
      return table?.key ? table.say(table.key.values[value]).replace(/^"|"$/g, "") : value + 1;
    }
    default:
      return value;
  }
}

/** A value of a running model as it is told to a person, with its unit. */
export function valueText(model: Model, value: number, type: ValueType): string {
  if (type.kind === "entity") return value === 0 ? "none" : `entity ${serialOf(value)}`;
  if (type.kind === "text") return `"${model.texts[value] ?? ""}"`;
  if (type.kind !== "number") return String(cellOf(model, value, type)) || "none";
  if (sameDimension(type.dimension, TIME)) return formatDuration(value);
  const symbol = dimensionSymbol(type.dimension);
  return `${formatNumber(value)}${symbol === "1" ? "" : ` ${symbol}`}`;
}
