import type { Model } from "../model/model.ts";
import { type Checked, nameKey } from "../expression/index.ts";
import { type Cell, cellOf, columnHead } from "../model/cells.ts";

/** An entity that has just left the system, in SI units. */
export interface Departed {
  /** Seconds from the start. */
  readonly at: number;
  /** Index of the element by which it left, and of its type. */
  readonly node: number;
  readonly type: number;
  readonly timeInSystem: number;
  /** Parts of that: in lines, and worked on. */
  readonly waiting: number;
  readonly worked: number;
  /** By their columns; NaN for those that its type does not have. */
  readonly attributes: Float64Array;
}

/** Told of each entity that leaves after the warm-up. */
export type Observe = (departed: Departed) => void;

interface ObservedAttribute {
  readonly name: string;
  readonly slot: number;
  readonly type: Checked["type"];
}

/** The attributes of all types, each once, by their columns. */
function attributesOf({ types, attributeSlots }: Model): ObservedAttribute[] {
  const found = new Map<number, ObservedAttribute>();
  for (const { type, attributes } of types)
    for (const { slot, value } of attributes) {
      const named = type.attributes.find(({ name }) => attributeSlots.get(nameKey(name)) === slot);
      if (named && !found.has(slot)) found.set(slot, { name: named.name, slot, type: value.type });
    }
  return [...found.values()].sort((a, b) => a.slot - b.slot);
}

/** How departures are written as rows: the names of the columns, and the cells of one. Numbers are in SI units. */
export function observationTable(model: Model): {
  readonly head: readonly string[];
  readonly row: (departed: Departed) => Cell[];
} {
  const attributes = attributesOf(model);
  return {
    head: [
      ...["Left at (s)", "By", "Type", "Time in system (s)", "Time waiting (s)", "Time worked on (s)"],
      ...attributes.map(({ name, type }) => columnHead(name, type)),
    ],
    row: ({ at, node, type, timeInSystem, waiting, worked, attributes: values }) => [
      at,
      model.nodes[node].element.name,
      model.types[type].type.name,
      timeInSystem,
      waiting,
      worked,
      ...attributes.map(({ slot, type }) => cellOf(model, values[slot], type)),
    ],
  };
}
