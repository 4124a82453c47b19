import tQuantile from "@stdlib/stats-base-dists-t-quantile";
import {
  batchesAreCorrelated,
  compile,
  comparePaired,
  intervalOf,
  lagOneCorrelation,
  meanInterval,
  moreLess,
  run,
  runLong,
  verdict,
  measuresOf,
} from "../src/index.ts";
import { chain, expectInterval, program, study } from "./build.ts";
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
    expect(verdict(comparePaired([1, 5, 3], [2, 1, 4], 0.95), 0.95, moreLess(false), { factor: 1, symbol: "" })).toBe(
      "cannot tell apart at 95 %",
    );
    expect(verdict(comparePaired([1, 2], [1, 2], 0.95), 0.95, moreLess(true), minutes)).toBe(
      "the same in every replication",
    );
    expect(verdict(comparePaired([1], [2], 0.95), 0.95, moreLess(true), minutes)).toBe(
      "too few replications to compare",
    );
    expect(
      verdict(comparePaired([1, 2, 3], [5, 6.5, 7], 0.9), 0.9, moreLess(false), { factor: 1, symbol: "" }),
    ).toMatch(/higher at 90 %$/);
  });
});

describe("batch means of a long run", () => {
  test("correlation of neighbours, by hand", () => {
    // Deviations -2, -1, 0, 1, 2: products 2 + 0 + 0 + 2, squares 10.
    expect(lagOneCorrelation([1, 2, 3, 4, 5])).toBeCloseTo(0.4, 12);
    expect(lagOneCorrelation([1, -1, 1, -1])).toBeCloseTo(-0.75, 12);
    expect(lagOneCorrelation([3, 3, 3])).toBeNaN();
    expect(lagOneCorrelation([1, 2])).toBeNaN();
    expect([batchesAreCorrelated([1, 2, 3, 4, 5, 6, 7, 8]), batchesAreCorrelated([1, -1, 1, -1, 1, -1])]).toEqual([
      true,
      false,
    ]);
  });

  test("independent values are found correlated one time in twenty", () => {
    let state = 7;
    const uniform = () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32;
    const normal = () => Math.sqrt(-2 * Math.log(uniform() + 1e-12)) * Math.cos(2 * Math.PI * uniform());
    let found = 0;
    for (let i = 0; i < 4000; i++) if (batchesAreCorrelated(Array.from({ length: 20 }, normal))) found += 1;
    expect(Math.abs(found - 200)).toBeLessThan(4.5 * Math.sqrt(4000 * 0.05 * 0.95));
  });

  test("batches of M/M/1 hold its known wait, and together are the replication itself", () => {
    const s = study({
      elements: [
        { id: "in", kind: "arrivals", between: "exponential(2 min)" },
        { id: "s", kind: "station", time: "exponential(1 min)" },
        { id: "out", kind: "departures" },
      ],
      links: chain("in", "s", "out"),
      run: { length: "410 d", warmUp: "10 d" },
    });
    const p = program(s);
    const batches = runLong(p, { seed: 3, batches: 20 })!;
    const at = (key: string) => measuresOf(p).findIndex((m) => m.key === key);
    expect(batches.map((b) => b.replication)).toEqual(Array.from({ length: 20 }, (_, i) => i + 1));
    const waits = batches.map((b) => b.values[at("s/wait.mean")]);
    expectInterval(waits, 60, 0.06);
    expect(batchesAreCorrelated(waits)).toBe(false);
    // Counts add up, and time averages average, to those of the whole.
    const whole = run(p, { seed: 3, replication: 1 })!;
    const sum = (key: string) => batches.reduce((total, b) => total + b.values[at(key)], 0);
    expect(sum("s/done")).toBe(whole.values[at("s/done")]);
    expect(sum("s/line.mean") / 20).toBeCloseTo(whole.values[at("s/line.mean")], 9);
    expect(Math.max(...batches.map((b) => b.values[at("s/line.max")]))).toBe(whole.values[at("s/line.max")]);
    // And again the same, after other replications.
    expect(runLong(p, { seed: 3, batches: 20 })!.map((b) => b.values)).toEqual(batches.map((b) => b.values));
  });

  test("short batches of a busy M/M/1 are found correlated", () => {
    const s = study({
      elements: [
        { id: "in", kind: "arrivals", between: "exponential(65 s)" },
        { id: "s", kind: "station", time: "exponential(1 min)" },
        { id: "out", kind: "departures" },
      ],
      links: chain("in", "s", "out"),
      run: { length: "4 d", warmUp: "1 d" },
    });
    const p = program(s);
    const waits = runLong(p, { seed: 3, batches: 40 })!.map(
      (b) => b.values[measuresOf(p).findIndex((m) => m.key === "s/line.mean")],
    );
    expect(batchesAreCorrelated(waits)).toBe(true);
  });

  test("it must be known when a long run ends", () => {
    const s = study({
      elements: [
        { id: "in", kind: "arrivals" },
        { id: "out", kind: "departures" },
      ],
      links: chain("in", "out"),
      run: { kind: "long", ends: "count" },
    });
    expect(compile(s).problems.map((p) => p.code)).toEqual(["long-run-end"]);
  });
});

describe("values that may be off", () => {
  test("widen the interval by as much as their mean may be off", () => {
    const [exact, off] = [meanInterval([10, 12, 14], 0.95), meanInterval([10, 12, 14], 0.95, [0.3, 0, 0.6])];
    expect([off.halfWidth - exact.halfWidth, off.error, exact.error]).toEqual([
      expect.closeTo(0.3, 12),
      expect.closeTo(0.3, 12),
      0,
    ]);
    expect(intervalOf({ n: 3, mean: 12, squares: 8, min: 10, max: 14, errors: 0.9 }, 0.95)).toEqual({
      ...off,
      error: expect.closeTo(0.3, 12),
      halfWidth: expect.closeTo(off.halfWidth, 12),
    });
  });
  test("are not called the same, however alike they look", () => {
    const minutes = { factor: 60, symbol: "min" };
    const errors = { baseline: [4, 4, 4], other: [4, 4, 4] };
    expect(verdict(comparePaired([604, 604, 604], [604, 604, 604], 0.95, errors), 0.95, moreLess(true), minutes)).toBe(
      "cannot tell apart at 95 %",
    );
    expect(verdict(comparePaired([604, 604, 604], [604, 604, 604], 0.95), 0.95, moreLess(true), minutes)).toBe(
      "the same in every replication",
    );
    expect(comparePaired([600, 601, 602], [610, 612, 612], 0.95, errors).low).toBeLessThan(
      comparePaired([600, 601, 602], [610, 612, 612], 0.95).low - 7.9,
    );
  });
  test("a constant of 601 s is told from one of 607 s, and its median is neither above the longest nor off", () => {
    const of = (time: string) => {
      const p = program(
        study({
          elements: [
            { id: "in", kind: "arrivals", between: "10 s" },
            { id: "d", kind: "dwell", time },
            { id: "out", kind: "departures" },
          ],
          links: chain("in", "d", "out"),
          run: { length: "20 h" },
        }),
      );
      return (key: string) =>
        run(p, { seed: 1, replication: 1 })!.values[measuresOf(p).findIndex((m) => m.key === key)];
    };
    for (const seconds of [600, 601, 607])
      expect([of(`${seconds} s`)("d/stay.p50"), of(`${seconds} s`)("d/stay.max")]).toEqual([seconds, seconds]);
  });
  test("replications say which of their values are off, and by how much at most", () => {
    const p = program(
      study({
        elements: [
          { id: "in", kind: "arrivals", between: "exponential(1 min)" },
          { id: "d", kind: "dwell", time: "uniform(1 min, 9 min)" },
          { id: "out", kind: "departures" },
        ],
        links: chain("in", "d", "out"),
        run: { length: "200 h" },
      }),
    );
    const { values, errors } = run(p, { seed: 1, replication: 1 })!;
    expect(errors!.map(([m]) => measuresOf(p)[m].id)).toEqual(expect.arrayContaining(["stay.p50", "timeInSystem.p99"]));
    for (const [m, error] of errors!) expect(error / values[m]).toBeLessThan(0.008);
    expect(run(p, { seed: 1, replication: 1, length: 20 * 3600 })!.errors).toBeUndefined();
  });
});
