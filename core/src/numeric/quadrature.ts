/** Nodes and weights of Gauss and Legendre's rule of 16 points on [-1, 1], the positive half; they are symmetric. */
const NODES = [
  0.09501250983763744, 0.2816035507792589, 0.4580167776572274, 0.6178762444026438, 0.755404408355003,
  0.8656312023878318, 0.9445750230732326, 0.9894009349916499,
];
const WEIGHTS = [
  0.1894506104550685, 0.1826034150449236, 0.1691565193950025, 0.1495959888165767, 0.1246289712555339,
  0.0951585116824928, 0.0622535239386479, 0.0271524594117541,
];

/** Points at which a function is looked at, and what each counts for in its integral. */
export interface Rule {
  readonly points: Float64Array;
  readonly weights: Float64Array;
}

/** Gauss and Legendre's rule over so many panels of equal width, 16 points each: for smooth functions. */
export function ruleOf(low: number, high: number, panels: number): Rule {
  const half = (high - low) / panels / 2;
  const points = new Float64Array(16 * panels);
  const weights = new Float64Array(16 * panels);
  for (let panel = 0; panel < panels; panel++) {
    const middle = low + (2 * panel + 1) * half;
    for (let i = 0; i < 16; i++) {
      const node = i < 8 ? -NODES[7 - i] : NODES[i - 8];
      points[16 * panel + i] = middle + half * node;
      weights[16 * panel + i] = half * WEIGHTS[i < 8 ? 7 - i : i - 8];
    }
  }
  return { points, weights };
}

/** The same rule with weights that hold a function which is always a factor, such as a density. */
export const weighted = ({ points, weights }: Rule, factor: (x: number) => number): Rule => ({
  points,
  weights: weights.map((weight, i) => weight * factor(points[i])),
});

export function integrate({ points, weights }: Rule, f: (x: number, i: number) => number): number {
  let sum = 0;
  for (let i = 0; i < points.length; i++) if (weights[i] > 0) sum += weights[i] * f(points[i], i);
  return sum;
}
