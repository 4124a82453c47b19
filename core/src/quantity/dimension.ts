/**
 * A dimension as integer exponents of the base dimensions, in the order
 * time, length, mass, money. Counts and shares are plain numbers: `[0, 0, 0, 0]`.
 */
export type Dimension = readonly [time: number, length: number, mass: number, money: number];

export const NUMBER: Dimension = [0, 0, 0, 0];
export const TIME: Dimension = [1, 0, 0, 0];
export const LENGTH: Dimension = [0, 1, 0, 0];
export const MASS: Dimension = [0, 0, 1, 0];
export const MONEY: Dimension = [0, 0, 0, 1];
export const SPEED: Dimension = [-1, 1, 0, 0];
export const ACCELERATION: Dimension = [-2, 1, 0, 0];
export const RATE: Dimension = [-1, 0, 0, 0];

export const sameDimension = (a: Dimension, b: Dimension): boolean =>
  a[0] === b[0] && a[1] === b[1] && a[2] === b[2] && a[3] === b[3];

export const isNumber = (d: Dimension): boolean => sameDimension(d, NUMBER);

const combine = (a: Dimension, b: Dimension, sign: 1 | -1): Dimension => [
  a[0] + sign * b[0],
  a[1] + sign * b[1],
  a[2] + sign * b[2],
  a[3] + sign * b[3],
];

export const multiplyDimensions = (a: Dimension, b: Dimension): Dimension => combine(a, b, 1);
export const divideDimensions = (a: Dimension, b: Dimension): Dimension => combine(a, b, -1);
export const powerDimension = (d: Dimension, n: number): Dimension => [d[0] * n, d[1] * n, d[2] * n, d[3] * n];

const NAMES: ReadonlyArray<readonly [Dimension, string]> = [
  [NUMBER, "a plain number"],
  [TIME, "a time"],
  [LENGTH, "a length"],
  [MASS, "a mass"],
  [MONEY, "an amount of money"],
  [SPEED, "a speed"],
  [ACCELERATION, "an acceleration"],
  [RATE, "a rate per time"],
  [[-1, 0, 0, 1], "a cost per time"],
  [[0, 2, 0, 0], "an area"],
];

const SYMBOLS = ["s", "m", "kg", "money"] as const;

/** The SI symbol of a dimension, such as `s`, `m/s` or `1` for a plain number. */
export function dimensionSymbol(d: Dimension): string {
  const part = (sign: 1 | -1) =>
    SYMBOLS.flatMap((symbol, i) => {
      const power = d[i] * sign;
      if (power <= 0) return [];
      return [power === 1 ? symbol : `${symbol}^${power}`];
    }).join("*");
  const above = part(1);
  const below = part(-1);
  if (!below) return above || "1";
  return `${above || "1"}/${below}`;
}

/** A dimension in words for messages: "a time", "a speed", or its symbol where no word exists. */
export function dimensionName(d: Dimension): string {
  const named = NAMES.find(([known]) => sameDimension(known, d));
  return named ? named[1] : `a quantity in ${dimensionSymbol(d)}`;
}
