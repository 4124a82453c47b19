import gammaln from "@stdlib/math-base-special-gammaln";
import { exp, ln } from "./elementary.ts";

const CLOSE = 1e-16;
const MOST_TERMS = 100_000;
/** Keeps quotients of the continued fraction from dividing by 0. */
const TINY = 1e-300;

/** The last shape asked for, with its log gamma: whole samples are asked with one. */
const last = { shape: Number.NaN, logGamma: Number.NaN };

function front(x: number, shape: number): number {
  if (shape !== last.shape) [last.shape, last.logGamma] = [shape, gammaln(shape)];
  return exp(shape * ln(x) - x - last.logGamma);
}

/** By the series of Abramowitz and Stegun (1964), 6.5.29, for x below about the shape. */
function series(x: number, shape: number): number {
  let term = 1 / shape;
  let sum = term;
  for (let i = 1; i < MOST_TERMS && term > CLOSE * sum; i++) {
    term *= x / (shape + i);
    sum += term;
  }
  return sum * front(x, shape);
}

/** By the continued fraction 6.5.31 of the same, worked out as Lentz (1976) does, for x above. */
function fraction(x: number, shape: number): number {
  let b = x + 1 - shape;
  let c = 1 / TINY;
  let d = 1 / b;
  let h = d;
  for (let i = 1; i < MOST_TERMS; i++) {
    const a = -i * (i - shape);
    b += 2;
    d = a * d + b;
    if (Math.abs(d) < TINY) d = TINY;
    c = b + a / c;
    if (Math.abs(c) < TINY) c = TINY;
    d = 1 / d;
    const by = d * c;
    h *= by;
    if (Math.abs(by - 1) <= CLOSE * 4) break;
  }
  return h * front(x, shape);
}

/** The regularized incomplete gamma function: the share of a gamma variable of scale 1 that is at or below x. */
export function gammaBelow(x: number, shape: number): number {
  if (!(x > 0)) return 0;
  return x < shape + 1 ? series(x, shape) : 1 - fraction(x, shape);
}

/** The share above x, as exact where it is small. */
export function gammaAbove(x: number, shape: number): number {
  if (!(x > 0)) return 1;
  return x < shape + 1 ? 1 - series(x, shape) : fraction(x, shape);
}
