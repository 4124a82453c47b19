import { type Dimension, LENGTH, MASS, MONEY, NUMBER, TIME } from "./dimension.ts";

/** A unit: its dimension and how many SI units (s, m, kg, money) one of it is. */
export interface Unit {
  readonly symbol: string;
  readonly dimension: Dimension;
  readonly factor: number;
}

const unit = (dimension: Dimension, factor: number, symbol: string, ...aliases: string[]) =>
  [symbol, ...aliases].map((name) => [name, { symbol, dimension, factor }] as const);

const UNITS: ReadonlyMap<string, Unit> = new Map([
  ...unit(TIME, 0.001, "ms"),
  ...unit(TIME, 1, "s", "sec", "second", "seconds"),
  ...unit(TIME, 60, "min", "mins", "minute", "minutes"),
  ...unit(TIME, 3600, "h", "hour", "hours"),
  ...unit(TIME, 86400, "d", "day", "days"),
  ...unit(TIME, 604800, "wk", "week", "weeks"),
  ...unit(LENGTH, 0.001, "mm"),
  ...unit(LENGTH, 0.01, "cm"),
  ...unit(LENGTH, 1, "m", "metre", "metres"),
  ...unit(LENGTH, 1000, "km"),
  ...unit(LENGTH, 0.0254, "in", "inch", "inches"),
  ...unit(LENGTH, 0.3048, "ft", "foot", "feet"),
  ...unit(LENGTH, 1852, "nmi"),
  ...unit(MASS, 0.001, "g"),
  ...unit(MASS, 1, "kg"),
  ...unit(MASS, 1000, "t", "tonne", "tonnes"),
  ...unit(MASS, 0.45359237, "lb"),
  ...unit(MONEY, 1, "money"),
  ...unit(NUMBER, 0.01, "%"),
]);

/** The unit of that name or symbol, if there is one. Names are case-sensitive, as in SI. */
export const findUnit = (name: string): Unit | undefined => UNITS.get(name);

/** Every symbol a person may write, without the longer spellings. */
export const unitSymbols = (dimension?: Dimension): string[] => [
  ...new Set([...UNITS.values()].filter((u) => !dimension || u.dimension === dimension).map((u) => u.symbol)),
];
