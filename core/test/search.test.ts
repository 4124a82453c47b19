import {
  isAllowed,
  type SearchFactor,
  type SearchSettings,
  searchSize,
  type SearchStep,
  searchStep,
  searchValue,
  type Tried,
} from "../src/inference/index.ts";

const settings: SearchSettings = {
  factors: [
    { kind: "whole", low: -6, high: 9 },
    { kind: "real", low: 0, high: 2, steps: 20 },
  ],
  constraints: [],
  better: "less",
  budget: 800,
  indifference: 0.5,
  p: 0.95,
  seed: 4,
};
const valuesOf = (of: SearchSettings, point: readonly number[]) =>
  point.map((step, f) => searchValue(of.factors[f], step));

/** Noise that is the same for a place and a replication, however often it is asked for. */
const noise = (point: readonly number[], r: number): number =>
  Math.sin(1 + 12.9898 * (r + 1) + point.reduce((sum, step, f) => sum + step * (3.7 + f), 0));

/** Carries a search out: `worth` by values, the bounded response by values too. */
function carriedOut(
  of: SearchSettings,
  worth: (values: readonly number[]) => number,
  bounded: (values: readonly number[]) => number = () => 0,
): SearchStep & { readonly spent: number; readonly values: readonly number[] | undefined } {
  const history: { point: readonly number[]; values: number[]; bounded: number[] }[] = [];
  for (;;) {
    const step = searchStep(history, of);
    if (step.phase === "over") {
      const spent = history.reduce((sum, { values }) => sum + values.length, 0);
      return {
        ...step,
        spent,
        values: step.best === undefined ? undefined : valuesOf(of, step.wanted[step.best].point),
      };
    }
    step.wanted.forEach(({ point, replications }, i) => {
      history[i] ??= { point, values: [], bounded: [] };
      expect(history[i].point).toEqual(point);
      while (history[i].values.length < replications) {
        const r = history[i].values.length;
        history[i].values.push(worth(valuesOf(of, point)) + noise(point, r));
        history[i].bounded.push(bounded(valuesOf(of, point)) + noise(point, r + 0.5));
      }
    });
  }
}

const bowl = ([x, y]: readonly number[]) => 50 + (x - 4) ** 2 + 9 * (y - 1.3) ** 2;

describe("a search for the best place", () => {
  test("finds the bottom of a bowl, among whole and real numbers, within its budget", () => {
    const found = carriedOut(settings, bowl);
    expect(found.values![0]).toBe(4);
    expect(found.values![1]).toBeCloseTo(1.3, 0);
    expect(bowl(found.values!)).toBeLessThan(50 * 1.02);
    expect(found.spent).toBeLessThanOrEqual(settings.budget);
    expect(found.holds).toBe(true);
    // The path leads to ever better places, and the finalists get replications of their own.
    expect(found.path.length).toBeGreaterThan(3);
    expect(found.finalists).toContain(found.best);
    expect(found.finalists.length).toBeGreaterThan(1);
    // A thousandth of what there is to be tried would not do for nearly as many.
    expect(found.wanted.length).toBeLessThan(searchSize(settings.factors));
  });

  test("goes the other way where more is better, and picks the right choice", () => {
    const factors: SearchFactor[] = [
      { kind: "whole", low: 0, high: 10 },
      { kind: "choice", count: 3 },
    ];
    const worth = ([x, c]: readonly number[]) => 80 - (x - 6) ** 2 + [0, 7, 3][c];
    expect(carriedOut({ ...settings, factors, better: "more" }, worth).values).toEqual([6, 1]);
  });

  test("tries nothing that constraints forbid", () => {
    const constraints = [{ coefficients: [1, 2], most: 4 }];
    const found = carriedOut({ ...settings, constraints }, bowl);
    for (const { point } of found.wanted) expect(isAllowed(point, { ...settings, constraints })).toBe(true);
    const [x, y] = found.values!;
    expect(x + 2 * y).toBeLessThanOrEqual(4 + 1e-9);
    // On the border x + 2 y = 4 the bowl is lowest where (x - 4) = 9 (y - 1.3) / 2: x 2.2, y 0.9; whole x is 2.
    expect(x).toBe(2);
    expect(y).toBeCloseTo(1, 0);
  });

  test("keeps a second response under its bound, and says so where no place does", () => {
    // More of x costs more; at most 12 may be spent, so that x is at most 2.
    const cost = ([x]: readonly number[]) => 10 + x;
    const bound = { value: 12, better: "less" as const };
    const found = carriedOut({ ...settings, bound }, bowl, cost);
    expect(found.values![0]).toBe(2);
    const none = carriedOut({ ...settings, bound: { value: -50, better: "less" } }, bowl, cost);
    expect([none.best, none.finalists, none.holds]).toEqual([undefined, [], false]);
  });

  test("leaves a local best where there is a better one elsewhere", () => {
    const two = ([x]: readonly number[]) => Math.min(40 + (x - 2) ** 2, 30 + 3 * (x - 26) ** 2);
    const factors: SearchFactor[] = [{ kind: "whole", low: 0, high: 30 }];
    expect(carriedOut({ ...settings, factors }, two).values).toEqual([26]);
  });

  test("goes by what was observed alone: interrupted anywhere it goes on as if it had not been", () => {
    const history: Tried[] = [];
    let [steps, step] = [0, searchStep(history, settings)];
    while (step.phase !== "over") {
      // One replication at a time, of the last place that lacks one: another order than before.
      const i = step.wanted.findLastIndex(({ replications }, k) => (history[k]?.values.length ?? 0) < replications);
      for (let k = 0; k <= i; k++) history[k] ??= { values: [] };
      const { point } = step.wanted[i];
      const { values } = history[i];
      history[i] = { values: [...values, bowl(valuesOf(settings, point)) + noise(point, values.length)] };
      if (++steps % 7 === 0 || history[i].values.length === step.wanted[i].replications)
        step = searchStep(history, settings);
    }
    const whole = carriedOut(settings, bowl);
    // Nothing was asked for that is not wanted in the end.
    expect(history.map(({ values }) => values.length)).toEqual(step.wanted.map(({ replications }) => replications));
    expect([step.best, step.path, step.wanted]).toEqual([whole.best, whole.path, whole.wanted]);
    // Another seed takes another way.
    expect(carriedOut({ ...settings, seed: 5 }, bowl).wanted).not.toEqual(whole.wanted);
  });
});
