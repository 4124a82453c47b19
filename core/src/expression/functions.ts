import { cos, exp, ln, log10, sin, tan } from "../numeric/elementary.ts";
import { isNumber, type Dimension, NUMBER } from "../quantity/index.ts";

/** A function of numbers. `dimension` gives the result's dimension, or undefined where the arguments do not fit. */
export interface MathFunction {
  readonly arguments: readonly [least: number, most: number];
  readonly dimension: (args: readonly Dimension[]) => Dimension | undefined;
  readonly wants: string;
  readonly apply: (...values: number[]) => number;
}

const sameForAll = (args: readonly Dimension[]) =>
  args.every((d) => String(d) === String(args[0])) ? args[0] : undefined;
const plain = (args: readonly Dimension[]) => (args.every(isNumber) ? NUMBER : undefined);
const half = ([d]: readonly Dimension[]): Dimension | undefined =>
  d.every((e) => e % 2 === 0) ? [d[0] / 2, d[1] / 2, d[2] / 2, d[3] / 2] : undefined;

const one = (dimension: MathFunction["dimension"], wants: string, apply: (x: number) => number): MathFunction => ({
  arguments: [1, 1],
  dimension,
  wants,
  apply,
});

const PLAIN_NUMBER = "a plain number";
const ALIKE = "quantities of one kind";

/** Rounding acts on plain numbers, or on a quantity to a multiple of a second one: `round(clock, 5 min)`. */
const rounding = (round: (x: number) => number): MathFunction => ({
  arguments: [1, 2],
  dimension: (args) => (args.length === 1 ? plain(args) : sameForAll(args)),
  wants: "a plain number, or a quantity and the step to round it to",
  apply: (x, step) => (step === undefined ? round(x) : round(x / step) * step),
});

export const functions: ReadonlyMap<string, MathFunction> = new Map<string, MathFunction>([
  ["abs", one(sameForAll, ALIKE, Math.abs)],
  ["min", { arguments: [1, 32], dimension: sameForAll, wants: ALIKE, apply: Math.min }],
  ["max", { arguments: [1, 32], dimension: sameForAll, wants: ALIKE, apply: Math.max }],
  ["round", rounding(Math.round)],
  ["floor", rounding(Math.floor)],
  ["ceiling", rounding(Math.ceil)],
  ["sqrt", one(half, "a plain number or a square", Math.sqrt)],
  ["exp", one(plain, PLAIN_NUMBER, exp)],
  ["ln", one(plain, PLAIN_NUMBER, ln)],
  ["log10", one(plain, PLAIN_NUMBER, log10)],
  ["sin", one(plain, "a plain number (an angle in radians)", sin)],
  ["cos", one(plain, "a plain number (an angle in radians)", cos)],
  ["tan", one(plain, "a plain number (an angle in radians)", tan)],
]);
