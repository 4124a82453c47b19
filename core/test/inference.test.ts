import tQuantile from "@stdlib/stats-base-dists-t-quantile";
import { comparePaired, meanInterval, moreLess, verdict } from "../src/index.ts";
import plant from "./reference/comparison-plantgrowth.json";
import quantiles from "./reference/quantiles.json";

test.each(quantiles.student_t)("Student t quantile at $p with $df degrees of freedom", ({ p, df, t }) => {
  expect(Math.abs(tQuantile(p, df) / t - 1)).toBeLessThan(1e-10);
});

test("mean and half-width of the reference data", () => {
  const { mean, halfWidth, n } = meanInterval(plant.groups.ctrl, 0.95);
  expect(n).toBe(10);
  expect(mean).toBeCloseTo(plant.mean_ci95_first.mean, 12);
  expect(halfWidth).toBeCloseTo(plant.mean_ci95_first.half_width, 12);
});

test("undefined values are left out; one value has no interval", () => {
  expect(meanInterval([1, NaN, 3], 0.9)).toMatchObject({ n: 2, mean: 2, min: 1, max: 3 });
  expect(meanInterval([4], 0.9)).toMatchObject({ n: 1, mean: 4, halfWidth: NaN });
  expect(meanInterval([NaN], 0.9).mean).toBeNaN();
});

test("large means cost no digits of the deviation", () => {
  expect(meanInterval([1e12 + 1, 1e12 + 2, 1e12 + 3], 0.95).sd).toBeCloseTo(1, 12);
});

describe("paired comparison", () => {
  const minutes = { factor: 60, symbol: "min" };
  test("the interval is that of the differences, other minus baseline", () => {
    const comparison = comparePaired([10, 12, 15, 11], [12, 15, 16, 13], 0.95);
    const direct = meanInterval([2, 3, 1, 2], 0.95);
    expect(comparison.difference).toEqual(direct);
    expect(comparison.low).toBeCloseTo(2 - 1.299228, 5); // t(0.975, 3) = 3.182446, sd = 0.816497
    expect(comparison.tellsApart).toBe(true);
    expect(comparison.varianceRemoved).toBeGreaterThan(0.8);
  });
  test("pairs with an undefined side are left out, and runs of different length pair as far as they go", () => {
    expect(comparePaired([1, NaN, 3, 4], [2, 5, 5], 0.9).differences).toEqual([1, 2]);
  });
  test("says the difference in words", () => {
    const shorter = comparePaired([300, 320, 310, 330], [270, 296, 283, 298], 0.95);
    expect(verdict(shorter, 0.95, moreLess(true), minutes)).toMatch(/^0\.\d+ min to 0\.\d+ min shorter at 95 %$/);
    expect(verdict(comparePaired([1, 5, 3], [2, 1, 4], 0.95), 0.95, moreLess(false), { factor: 1, symbol: "" })).toBe("cannot tell apart at 95 %");
    expect(verdict(comparePaired([1, 2], [1, 2], 0.95), 0.95, moreLess(true), minutes)).toBe("the same in every replication");
    expect(verdict(comparePaired([1], [2], 0.95), 0.95, moreLess(true), minutes)).toBe("too few replications to compare");
    expect(verdict(comparePaired([1, 2, 3], [5, 6.5, 7], 0.9), 0.9, moreLess(false), { factor: 1, symbol: "" })).toMatch(/higher at 90 %$/);
  });
});
