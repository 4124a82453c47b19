import { exp, ln } from "../numeric/elementary.ts";

/** A density in closed form up to its factor, by its logarithm, smooth and with one peak, on the whole line. */
export interface LogDensity {
  /** Where it is largest. */
  readonly mode: number;
  /** Its logarithm, 0 at the mode, as a function of the distance from it. */
  readonly log: (d: number) => number;
  /** The derivative of that. */
  readonly slope: (d: number) => number;
}

/** Nodes and weights of Gauss and Legendre's rule of 16 points on [-1, 1], one of each pair. */
const NODES = [
  0.0950125098376374, 0.2816035507792589, 0.4580167776572274, 0.6178762444026438, 0.755404408355003, 0.8656312023878318,
  0.9445750230732326, 0.9894009349916499,
];
const WEIGHTS = [
  0.1894506104550685, 0.1826034150449236, 0.1691565193950025, 0.1495959888165767, 0.1246289712555339,
  0.0951585116824928, 0.0622535239386479, 0.0271524594117541,
];

function integrate(density: (d: number) => number, from: number, to: number): number {
  const middle = (from + to) / 2;
  const half = (to - from) / 2;
  let sum = 0;
  for (let i = 0; i < NODES.length; i++)
    sum += WEIGHTS[i] * (density(middle - half * NODES[i]) + density(middle + half * NODES[i]));
  return sum * half;
}

/** What is left out of either tail, as a share of the whole. */
const NEGLIGIBLE = 1e-20;
/** How far two ways to integrate over a stretch may be apart, unless it is very short already. */
const TOLERANCE = 1e-13;
const SHORTEST = 1 / 32;
/**
 * The table is cut into cells of this width in the logarithm of the odds u / (1 − u), as far as e^30 (u = 1e-13) to
 * either side.
 */
const CELL = 0.5;
const CELLS = 60;
const COEFFICIENTS = 10;

/** Stretches from the mode outwards, each with its integral. */
function stretches(
  density: (d: number) => number,
  slope: (d: number) => number,
  direction: 1 | -1,
  scale: number,
): { readonly ends: readonly number[]; readonly areas: readonly number[] } {
  const ends = [0];
  const areas: number[] = [];
  let width = scale;
  let total = 0;
  for (let at = 0; ;) {
    const to = at + direction * width;
    const middle = at + (direction * width) / 2;
    const whole = Math.abs(integrate(density, at, to));
    const halves = Math.abs(integrate(density, at, middle)) + Math.abs(integrate(density, middle, to));
    if (Math.abs(whole - halves) > TOLERANCE * halves && width > scale * SHORTEST) {
      width /= 2;
      continue;
    }
    ends.push(to);
    areas.push(halves);
    total += halves;
    at = to;
    if (density(at) / Math.abs(slope(at)) < NEGLIGIBLE * total) return { ends, areas };
    width *= 2;
  }
}

/**
 * The inverse of a distribution function as a table of polynomials, made from its density alone: the share below is
 * integrated numerically and inverted by Newton's method at the nodes of each cell (after Derflinger, Hörmann and
 * Leydold 2010). It is a function of the logarithm of the odds, and either half is worked out from its own end, so
 * that both tails are as exact as the middle: to about 1e-12 of the value's scale, as the tests show.
 */
export class InverseTable {
  /** Coefficients of the lower half, cell by cell from the middle outwards, and of the upper. */
  private readonly below: Float64Array;
  private readonly above: Float64Array;

  constructor({ mode, log, slope }: LogDensity) {
    const density = (d: number) => exp(log(d));
    // How far from the mode the density has not fallen by much.
    let scale = 1;
    while (log(scale) < -2 || log(-scale) < -2) scale /= 2;
    const left = stretches(density, slope, -1, scale);
    const right = stretches(density, slope, 1, scale);
    const sum = (areas: readonly number[]) => areas.reduceRight((s, area) => s + area, 0);
    const whole = sum(left.areas) + sum(right.areas);
    const ends = [...left.ends].reverse().concat(right.ends.slice(1));
    const areas = [...left.areas].reverse().concat(right.areas);
    this.below = half(density, whole, ends, areas).map((c, i) => (i % COEFFICIENTS === 0 ? mode + c : c));
    const mirrored = ends.map((end) => -end).reverse();
    this.above = half((d) => density(-d), whole, mirrored, [...areas].reverse()).map((c, i) =>
      i % COEFFICIENTS === 0 ? mode - c : -c,
    );
  }

  /** The value below which a share `u` lies. */
  at(u: number): number {
    return u <= 0.5 ? valueIn(this.below, u, 1 - u) : valueIn(this.above, 1 - u, u);
  }

  /** The value above which a share `u` lies. */
  ofShareAbove(u: number): number {
    return u <= 0.5 ? valueIn(this.above, u, 1 - u) : valueIn(this.below, 1 - u, u);
  }
}

/** Value for a share of at most one half, and the rest of the whole. */
function valueIn(cells: Float64Array, share: number, rest: number): number {
  const t = ln(rest / share) / CELL;
  // Beyond the last cell tails go on as straight lines, as those of log-concave densities nearly do.
  if (t >= CELLS) return beyond(cells, t);
  const cell = Math.floor(t);
  const x = 2 * (t - cell) - 1;
  const at = cell * COEFFICIENTS;
  let value = cells[at + COEFFICIENTS - 1];
  for (let k = at + COEFFICIENTS - 2; k >= at; k--) value = value * x + cells[k];
  return value;
}

function beyond(cells: Float64Array, t: number): number {
  const at = (CELLS - 1) * COEFFICIENTS;
  let [value, slope] = [0, 0];
  for (let k = 0; k < COEFFICIENTS; k++) {
    value += cells[at + k];
    slope += k * cells[at + k];
  }
  return value + 2 * slope * (t - CELLS);
}

/** Polynomials of the distance from the mode, for shares from one half down. */
function half(
  density: (d: number) => number,
  whole: number,
  ends: readonly number[],
  areas: readonly number[],
): Float64Array {
  const before = [0];
  for (const area of areas) before.push(before[before.length - 1] + area / whole);
  let stretch = areas.length - 1;
  while (stretch > 0 && before[stretch] > 0.5) stretch -= 1;
  let d = (ends[stretch] + ends[stretch + 1]) / 2;
  let [asked, speed] = [0, 0];
  /** Where the odds above are e^t: `t` is asked for in rising order. */
  const solve = (t: number): number => {
    d += speed * (t - asked);
    asked = t;
    for (let step = 0; step < 40; step++) {
      while (stretch > 0 && d < ends[stretch]) stretch -= 1;
      while (stretch < areas.length - 1 && d > ends[stretch + 1]) stretch += 1;
      const share = before[stretch] + integrate(density, ends[stretch], d) / whole;
      // The derivative of ln((1 − F) / F) is −f / (F (1 − F)).
      speed = (-share * (1 - share) * whole) / density(d);
      const change = speed * (t - ln((1 - share) / share));
      // At the far end nothing more can be told apart.
      if (!Number.isFinite(change)) break;
      d += change;
      // The next change would be about the square of this.
      if (Math.abs(change) <= 1e-7 * Math.abs(speed)) break;
    }
    return d;
  };
  const cells = new Float64Array(CELLS * COEFFICIENTS);
  const values = new Float64Array(COEFFICIENTS);
  for (let cell = 0; cell < CELLS; cell++) {
    for (let i = 0; i < COEFFICIENTS; i++) values[i] = solve(CELL * (cell + (1 + NODES_OF_CELL[i]) / 2));
    for (let k = 0; k < COEFFICIENTS; k++) {
      let sum = 0;
      for (let i = 0; i < COEFFICIENTS; i++) sum += TO_POWERS[k][i] * values[i];
      cells[cell * COEFFICIENTS + k] = sum;
    }
  }
  return cells;
}

/** Zeros of the Chebyshev polynomial of degree 10, rising: −cos((2i + 1) π / 20). */
const NODES_OF_CELL = [
  -0.9876883405951378, -0.8910065241883679, -0.7071067811865476, -0.45399049973954686, -0.15643446504023092,
  0.15643446504023092, 0.45399049973954686, 0.7071067811865476, 0.8910065241883679, 0.9876883405951378,
];

/**
 * The coefficients of the polynomial through values at those zeros: row k times the values is the coefficient of x^k.
 */
const TO_POWERS: readonly (readonly number[])[] = (() => {
  const columns = NODES_OF_CELL.map((node, i) => {
    // Lagrange's polynomial that is 1 at this one and 0 at the others.
    let coefficients = [1];
    NODES_OF_CELL.forEach((other, j) => {
      if (j === i) return;
      const next = new Array<number>(coefficients.length + 1).fill(0);
      coefficients.forEach((c, k) => {
        next[k + 1] += c / (node - other);
        next[k] -= (c * other) / (node - other);
      });
      coefficients = next;
    });
    return coefficients;
  });
  return Array.from({ length: COEFFICIENTS }, (_, k) => columns.map((column) => column[k]));
})();
