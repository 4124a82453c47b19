import { ln } from "../src/numeric/elementary.ts";
import { openStreams } from "../src/random/streams.ts";

/** Distance from a number to the next in size. */
function unitInLastPlace(x: number): number {
  const float = new Float64Array([Math.abs(x)]);
  new BigInt64Array(float.buffer)[0] += 1n;
  return float[0] - Math.abs(x);
}

test("ln is within a unit in the last place or so of the engine's, near 1, near 0 and far off", () => {
  const uniform = openStreams(3, 1).stream(1).uniform();
  for (let i = 0; i < 200_000; i++) {
    const u = uniform();
    for (const x of [u, 1 + (u - 0.5) * 1e-6, 2 ** (2000 * (u - 0.5)), 5e-324 * 2 ** (u * 60)]) {
      const expected = Math.log(x);
      const error = Math.abs(ln(x) - expected) / unitInLastPlace(expected);
      if (!(error <= 2)) throw new Error(`ln(${x}) is off by ${error} units in the last place`);
    }
  }
});

test.each([
  [1, 0],
  [0, -Infinity],
  [-0, -Infinity],
  [-1, NaN],
  [NaN, NaN],
  [Infinity, Infinity],
  [2, Math.LN2],
  [Math.E, 1],
  [Number.MAX_VALUE, 709.782712893384],
])("ln(%d) is %d", (x, expected) => {
  expect(ln(x)).toBe(expected);
});
