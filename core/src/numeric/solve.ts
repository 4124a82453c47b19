/** Steps after which a root is as near as it gets. */
const MOST_STEPS = 200;

/**
 * The x at which a rising function is `wanted`, to about `tolerance` relative to x: by chords that halve the value of
 * an end that stays (the Illinois method; Dowell and Jarratt 1971). `high` is doubled until it lies above.
 */
export function solveRising(
  f: (x: number) => number,
  wanted: number,
  { low, high, tolerance = 1e-12 }: { readonly low: number; readonly high: number; readonly tolerance?: number },
): number {
  let [a, b] = [low, high];
  let fa = f(a) - wanted;
  let fb = f(b) - wanted;
  while (fb < 0) {
    [a, fa] = [b, fb];
    b = b > 0 ? b * 2 : 1;
    fb = f(b) - wanted;
    if (b > 1e12) return Number.NaN;
  }
  let side = 0;
  for (let step = 0; step < MOST_STEPS && Math.abs(b - a) > tolerance * Math.max(1, Math.abs(b)); step++) {
    const x = fb === fa ? (a + b) / 2 : (a * fb - b * fa) / (fb - fa);
    const fx = f(x) - wanted;
    if (fx === 0) return x;
    if (fx > 0) {
      [b, fb] = [x, fx];
      if (side === 1) fa /= 2;
      side = 1;
    } else {
      [a, fa] = [x, fx];
      if (side === -1) fb /= 2;
      side = -1;
    }
  }
  return Math.abs(fa) < Math.abs(fb) ? a : b;
}
