import {
  checkExpression,
  distributions,
  makeScope,
  numberOf,
  pick,
  pickedAs,
  TIME,
  PLAIN,
  waysFor,
} from "../src/index.ts";

const A_TIME = numberOf(TIME);
const way = (id: string) => waysFor(PLAIN).find((w) => w.id === id)!;
const picked = (id: string, typed: string[], wanted = A_TIME) => {
  const result = pick(way(id), typed, wanted);
  if (!result.ok) throw new Error(result.message);
  return result.picked;
};
test("between 2 and 5, mostly 3: it writes the expression, and knows its mean and spread", () => {
  const it = picked("mostly", ["2 min", "3 min", "5 min"]);
  expect(it.text).toBe("triangular(2 min, 3 min, 5 min)");
  expect(it.mean).toBeCloseTo(200, 10);
  // Variance of a triangle: (a² + m² + b² − am − ab − mb) / 18.
  expect(it.sd).toBeCloseTo(60 * Math.sqrt((4 + 9 + 25 - 6 - 10 - 15) / 18), 10);
  const densest = it.shape.reduce((a, b) => (b[1] > a[1] ? b : a));
  expect(densest[0] / 60).toBeCloseTo(3, 1);
});

test("what half stay below and nine in ten is so of the draws", () => {
  const it = picked("quantiles", ["3 min", "9 min"]);
  const draws = it.draws(7, 20_000);
  const below = (value: number) => draws.filter((d) => d < value).length / draws.length;
  expect(Math.abs(below(180) - 0.5)).toBeLessThan(0.015);
  expect(Math.abs(below(540) - 0.9)).toBeLessThan(0.01);
  const { checked } = checkExpression(
    it.text,
    makeScope(new Map(), () => 0),
    A_TIME,
  ) as { checked: { mean?: number } };
  expect(checked.mean! / it.mean).toBeCloseTo(1, 3);
});

test.each(waysFor(PLAIN).map((w) => [w.id]))(
  "%s: what it writes is an expression with the mean and the draws it shows",
  (id) => {
    const typed = way(id).asks.map(({ typical }) => typical);
    const it = picked(id, typed, PLAIN);
    const result = checkExpression(
      it.text,
      makeScope(new Map(), () => 0),
      PLAIN,
    );
    expect(result).toMatchObject({ ok: true, checked: { draws: true } });
    if (result.ok) expect(result.checked.mean! / it.mean).toBeCloseTo(1, 3);
    const draws = it.draws(1, 4000);
    const mean = draws.reduce((a, b) => a + b) / draws.length;
    // Four standard errors.
    expect(Math.abs(mean - it.mean)).toBeLessThan((4 * it.sd) / Math.sqrt(draws.length));
    expect(Math.max(...it.shape.map(([, density]) => density))).toBe(1);
    expect(it.low).toBeLessThan(it.high);
    expect(distributions.has(way(id).distribution)).toBe(true);
  },
);

test("what is missing, of another unit or out of order is said, at its place", () => {
  expect(pick(way("mostly"), ["2 min", "", "5 min"], A_TIME)).toEqual({
    ok: false,
    at: 1,
    message: "Write what it is: mostly.",
  });
  expect(pick(way("memoryless"), ["5 m"], A_TIME)).toMatchObject({
    ok: false,
    at: 0,
    message: expect.stringMatching(/time is wanted/),
  });
  expect(pick(way("mostly"), ["6 min", "3 min", "5 min"], A_TIME)).toMatchObject({ ok: false, at: -1 });
  expect(pick(way("quantiles"), ["9 min", "3 min"], A_TIME)).toMatchObject({ ok: false, at: -1 });
});

test("counts are offered only where a plain number is wanted", () => {
  expect(waysFor(A_TIME).some((w) => w.counts)).toBe(false);
  expect(waysFor(PLAIN).filter((w) => w.counts)).toHaveLength(3);
});

test("an expression that could have been picked is found again", () => {
  expect(pickedAs("triangular(9 min, 12 min, 20 min)")).toMatchObject({ typed: ["9 min", "12 min", "20 min"] });
  expect(pickedAs("exponential(4 min)")?.way.id).toBe("memoryless");
  for (const other of ["4 min", "uniform(1 min, max(2 min, 3 min))", "2 * exponential(4 min)", "nothing(1)"])
    expect(pickedAs(other)).toBeUndefined();
});
