import tQuantile from "@stdlib/stats-base-dists-t-quantile";
import {
  autocorrelations,
  bonferroni,
  dunnettOneSided,
  efficient,
  equalVariances,
  factorial,
  fQuantile,
  fractionalFactorial,
  fractionsOf,
  fullFactorial,
  fUpper,
  groupingLetters,
  kimNelson,
  latinHypercube,
  mostSequential,
  mser,
  oneWay,
  pairedAnova,
  pairedT,
  polynomialFit,
  type Precision,
  precisionStep,
  replicationsFor,
  rinottConstant,
  rinottReplications,
  type SelectionSettings,
  selectionStep,
  studentizedRangeQuantile,
  subsetOfBest,
  tukey,
  vonNeumannRatio,
  welchAnova,
  welchAverage,
  welchT,
  withBest,
} from "../src/inference/index.ts";
import { meanInterval } from "../src/inference/interval.ts";
import plant from "./reference/comparison-plantgrowth.json";
import npk from "./reference/factorial-npk.json";
import quantiles from "./reference/quantiles.json";
import selection from "./reference/selection.json";
import series from "./reference/series.json";

const near = (value: number, reference: number, tolerance = 1e-6) =>
  expect(Math.abs(value - reference) / Math.abs(reference)).toBeLessThan(tolerance);

const GROUPS = [plant.groups.ctrl, plant.groups.trt1, plant.groups.trt2];

describe("values of distributions", () => {
  test.each(quantiles.studentized_range)(
    "studentized range of $groups with $df degrees at $p",
    ({ p, groups, df, q }) => {
      const found = studentizedRangeQuantile(p, groups, df);
      // Of two groups it is Student's t, exactly; the reference for 4 degrees of freedom is off by 4e-6 there.
      if (groups === 2) near(found, Math.SQRT2 * tQuantile((1 + p) / 2, df), 1e-8);
      near(found, q, groups === 2 ? 1e-5 : 1e-6);
    },
  );
  test.each(quantiles.F)("F of $df1 and $df2 degrees at $p", ({ p, df1, df2, F }) => {
    near(fQuantile(p, df1, df2), F, 1e-10);
    near(fUpper(F, df1, df2), 1 - p, 1e-9);
  });
  test.each(selection.dunnett_one_sided)("Dunnett's of $groups with $df degrees at $p", ({ groups, df, p, d }) => {
    near(dunnettOneSided(p, groups, df), d);
  });
  test.each(selection.rinott)("Rinott's of $systems after $firstStage at $p", ({ systems, firstStage, p, h }) => {
    near(rinottConstant(p, systems, firstStage), h);
  });
});

describe("comparisons of the reference data", () => {
  test("one-way analysis of variance", () => {
    const { f, p, dfBetween, dfWithin } = oneWay(GROUPS);
    expect([dfBetween, dfWithin]).toEqual([plant.anova.df_between, plant.anova.df_within]);
    near(f, plant.anova.F, 1e-10);
    near(p, plant.anova.p, 1e-9);
  });

  test("all pairs by the studentized range", () => {
    const pairs = tukey(GROUPS, 0.95);
    expect(plant.tukey_hsd_95.map(({ pair }) => pair)).toEqual(["trt1-ctrl", "trt2-ctrl", "trt2-trt1"]);
    plant.tukey_hsd_95.forEach(({ difference, low, high, p }, i) => {
      near(pairs[i].difference, difference, 1e-10);
      near(pairs[i].low, low);
      near(pairs[i].high, high);
      near(pairs[i].p, p);
    });
  });

  test("Welch's t", () => {
    const { difference, low, high, df, p } = welchT(plant.groups.trt1, plant.groups.ctrl, 0.95);
    const wanted = plant.welch_t_first_two;
    near(difference, wanted.difference, 1e-10);
    near(low, wanted.low, 1e-9);
    near(high, wanted.high, 1e-9);
    near(df, wanted.df, 1e-10);
    near(p, wanted.p, 1e-9);
  });

  test("of two groups all forms agree", () => {
    const [a, b] = GROUPS;
    near(welchAnova([a, b]).p, welchT(a, b, 0.95).p, 1e-9);
    near(pairedAnova([a, b]).p, pairedT(a, b, 0.95).p, 1e-9);
    near(bonferroni([a, b], 0.95, true)[0].p, pairedT(a, b, 0.95).p, 1e-12);
    near(tukey([a, b], 0.95)[0].p, oneWay([a, b]).p);
  });

  test("Bonferroni's pairs are stricter by their number", () => {
    const [first] = bonferroni(GROUPS, 0.95, false);
    const alone = welchT(GROUPS[0], GROUPS[1], 1 - 0.05 / 3);
    expect([first.low, first.high]).toEqual([alone.low, alone.high]);
    near(first.p, Math.min(1, 3 * alone.p), 1e-12);
  });

  test("variances that differ are found out, and those that do not are not", () => {
    expect(equalVariances(GROUPS)).toBeGreaterThan(0.3);
    expect(equalVariances([GROUPS[0].map((v) => v * 20), GROUPS[1]])).toBeLessThan(0.01);
  });
});

describe("the best of several", () => {
  test("intervals with the best are cut off at 0, and mirrored where less is better", () => {
    const more = withBest(GROUPS, 0.95, "more", false);
    const less = withBest(
      GROUPS.map((g) => g.map((v) => -v)),
      0.95,
      "less",
      false,
    );
    more.forEach(({ low, high, difference, mayBeBest, isBest }, i) => {
      expect(low <= 0 && high >= 0).toBe(true);
      expect(less[i]).toEqual({ difference: -difference, low: -high || 0, high: -low || 0, mayBeBest, isBest });
    });
    // The third is ahead by 0.494; the width is Dunnett's by the pooled deviation.
    const width = dunnettOneSided(0.95, 3, 27) * Math.sqrt((2 * oneWay(GROUPS).meanSquare) / 10);
    near(more[2].high, 0.494 + width, 1e-9);
    expect(more.map(({ mayBeBest }) => mayBeBest)).toEqual([true, false, true]);
    expect(more[2].isBest).toBe(false);
  });

  test("one far ahead is the best, alone in its subset", () => {
    const far = [...GROUPS.slice(0, 2), GROUPS[2].map((v) => v + 5)];
    for (const paired of [false, true]) {
      expect(withBest(far, 0.95, "more", paired).map(({ isBest }) => isBest)).toEqual([false, false, true]);
      expect(subsetOfBest(far, 0.95, "more", paired)).toEqual([false, false, true]);
      expect(subsetOfBest(far, 0.95, "less", paired)).toEqual([true, true, false]);
    }
    expect(subsetOfBest(GROUPS, 0.95, "more", false)).toEqual([true, false, true]);
  });

  test("a fully sequential selection ends with one, at the latest when the bounds have closed", () => {
    const settings = { p: 0.95, indifference: 0.5, firstStage: 10, better: "more" as const };
    const noise = (i: number, r: number) => Math.sin(12.9898 * (i + 1) + 78.233 * r) * 0.9;
    const means = [0, 0.2, 1.4];
    let out = new Set<number>();
    let r = settings.firstStage;
    const take = (n: number) => means.map((m, i) => Array.from({ length: n }, (_, j) => m + noise(i, j)));
    const most = mostSequential(take(10), settings);
    for (; ; r++) {
      const { inPlay, selected } = kimNelson(take(r), settings, out);
      out = new Set([0, 1, 2].filter((i) => !inPlay.includes(i)));
      if (selected === undefined) continue;
      expect(selected).toBe(2);
      break;
    }
    expect(r).toBeLessThanOrEqual(most);
    expect(kimNelson(take(5), settings)).toEqual({ inPlay: [0, 1, 2], selected: undefined });
  });

  test("Rinott's second stage is as large as the deviation asks for", () => {
    expect(rinottReplications(3, 2, 1, 10)).toBe(36);
    expect(rinottReplications(3, 0.1, 1, 10)).toBe(10);
  });

  test("letters are shared by those that cannot be told apart, the best first", () => {
    const apart = (pairs: string[]) => (a: number, b: number) => pairs.includes([a, b].sort((x, y) => x - y).join());
    expect(groupingLetters([1, 2, 3], apart([]))).toEqual(["a", "a", "a"]);
    expect(groupingLetters([1, 2, 3], apart(["0,1", "0,2", "1,2"]))).toEqual(["c", "b", "a"]);
    expect(groupingLetters([1, 2, 3], apart(["0,2"]))).toEqual(["b", "ab", "a"]);
    expect(groupingLetters([1, 2, 3], apart(["0,2"]), "less")).toEqual(["a", "ab", "b"]);
    expect(groupingLetters([4, 3, 2, 1], apart(["0,2", "0,3", "1,3"]))).toEqual(["a", "ab", "bc", "c"]);
  });
});

describe("factorial designs", () => {
  const rows = npk.rows.map((row) => ({
    levels: [Number(row.N), Number(row.P), Number(row.K)],
    values: [Number(row.yield)],
  }));

  test("effects and their analysis are those of the reference", () => {
    const { terms, residual } = factorial(rows, 3)!;
    const names = terms.map(({ factors }) => factors.map((f) => "NPK"[f]).join(" x "));
    expect(names).toEqual(Object.keys(npk.effects));
    terms.forEach(({ effect, df, sumOfSquares, f, p }, i) => {
      near(effect!, Object.values(npk.effects)[i], 1e-9);
      const wanted = npk.anova[names[i] as "N"];
      expect(df).toBe(wanted.df);
      near(sumOfSquares, wanted.sumOfSquares, 1e-9);
      near(f, wanted.F, 1e-9);
      near(p, wanted.p, 1e-9);
    });
    expect(residual.df).toBe(npk.anova.Residuals.df);
    near(residual.sumOfSquares, npk.anova.Residuals.sumOfSquares, 1e-9);
  });

  test("of more than two levels there is no single effect; what is not balanced has no analysis", () => {
    const values = (i: number, j: number) => [10 * i + j, 10 * i + j + 1];
    const three = fullFactorial([3, 2]).map((levels) => ({ levels, values: values(levels[0], levels[1]) }));
    const { terms, residual } = factorial(three, 2)!;
    expect(terms.map(({ df, effect }) => [df, effect])).toEqual([
      [2, undefined],
      [1, 1],
      [2, undefined],
    ]);
    expect(terms[2].sumOfSquares).toBeCloseTo(0, 10);
    expect(residual).toEqual({ df: 6, sumOfSquares: 3 });
    expect(factorial(three.slice(1), 2)).toBeUndefined();
    // One replication each: nothing is left to compare with.
    expect(
      factorial(
        fullFactorial([2, 2]).map((levels) => ({ levels, values: [levels[0]] })),
        2,
      )!.terms[0].f,
    ).toBeNaN();
  });

  test("blocks take what replications have in common out of the residual, as the paired analysis does", () => {
    const values = [
      [3, 9, 5, 8],
      [4, 11, 5, 9],
      [6, 12, 9, 10],
    ];
    const design = values.map((of, level) => ({ levels: [level], values: of }));
    const found = factorial(design, 1, true)!;
    const paired = pairedAnova(values);
    expect(found.residual.df).toBe(paired.dfWithin);
    near(found.residual.sumOfSquares / found.residual.df, paired.meanSquare, 1e-12);
    near(found.terms[0].f, paired.f, 1e-12);
    near(found.terms[0].p, paired.p, 1e-12);
    expect(factorial(design, 1)!.residual.df).toBe(9);
  });

  test("fractions tell their resolution, and are balanced in every pair of factors", () => {
    expect(fractionalFactorial(5, 1)).toMatchObject({ resolution: 5, generators: ["E = ABCD"] });
    expect(fractionalFactorial(5, 2)!.resolution).toBe(3);
    expect(fractionalFactorial(7, 3)!.resolution).toBe(4);
    expect(fractionalFactorial(8, 2)!.resolution).toBe(5);
    expect(fractionalFactorial(2, 1)).toBeUndefined();
    for (const k of [3, 4, 5, 6, 7, 8])
      for (const p of fractionsOf(k)) {
        const { plan } = fractionalFactorial(k, p)!;
        expect(plan).toHaveLength(2 ** (k - p));
        expect(new Set(plan.map(String)).size).toBe(plan.length);
        for (let a = 0; a < k; a++)
          for (let b = a + 1; b < k; b++)
            expect(plan.filter((row) => row[a] === 1 && row[b] === 1)).toHaveLength(plan.length / 4);
      }
  });

  test("a Latin hypercube has one point in every n-th of each factor", () => {
    let state = 1;
    const uniform = () => (state = (state * 16807) % 2147483647) / 2147483647;
    const points = latinHypercube(20, 3, uniform);
    for (let f = 0; f < 3; f++)
      expect(points.map((p) => Math.floor(p[f] * 20)).sort((a, b) => a - b)).toEqual(
        Array.from({ length: 20 }, (_, i) => i),
      );
  });
});

describe("series that settle", () => {
  test.each(series)(
    "MSER-5, von Neumann's ratio and correlations of $data",
    ({ values, mser5, vonNeumann, autocorrelation }) => {
      const cut = mser(values)!;
      expect(cut.truncateAt).toBe(mser5.truncateAt);
      near(cut.statistic, mser5.statistic, 1e-10);
      near(vonNeumannRatio(values), vonNeumann, 1e-10);
      autocorrelations(values, autocorrelation.length).forEach((r, i) => near(r, autocorrelation[i], 1e-10));
    },
  );

  test("too short a series is not cut, nor one that has settled from its start", () => {
    expect(mser([1, 2, 3])).toBeUndefined();
    expect(mser(Array.from({ length: 50 }, () => 4))!.truncateAt).toBe(0);
  });

  test("Welch's average is that of the replications, smoothed over as many neighbours as there are", () => {
    const a = [1, 2, 3, 4, 5, 6];
    const b = a.map((v) => v + 2);
    expect(welchAverage([a, b], 1)).toEqual([2, 3, 4, 5, 6]);
    expect(welchAverage([[9, 0, 0, 0, 0, 0]], 2)).toEqual([9, 3, 9 / 5, 0]);
    expect(
      welchAverage(
        [
          [1, 2, 3],
          [1, 2],
        ],
        0,
      ),
    ).toEqual([1, 2]);
  });
});

describe("how many replications a precision takes", () => {
  test("is the fewest whose half-width is small enough, and ten at least", () => {
    const n = replicationsFor(100, 20, 0.95, { halfWidth: 4 });
    expect(n).toBe(99);
    expect(replicationsFor(100, 20, 0.95, { halfWidth: 1000 })).toBe(10);
    expect(replicationsFor(100, 0, 0.95, { halfWidth: 1 })).toBe(10);
    expect(replicationsFor(0, 3, 0.95, { relative: 0.05 })).toBe(Infinity);
    // 5 % of the true mean: 100 × 0.05 / 1.05.
    expect(replicationsFor(100, 20, 0.95, { relative: 0.05 })).toBe(
      replicationsFor(100, 20, 0.95, { halfWidth: 100 / 21 }),
    );
  });
});

describe("a curve through observations", () => {
  // Montgomery's textbook shape by hand: x 1 to 5, y with residuals that sum to nothing.
  const xs = [1, 2, 3, 4, 5];
  const ys = [2, 4, 5, 4, 5];
  test("is the line of least squares, with its interval", () => {
    const line = polynomialFit(xs, ys, 1)!;
    // By hand: slope 6/10, through (3, 4); residuals -0.8, 0.6, 1, -0.6, -0.2, their squares 2.4 over 3.
    near(line.at(0), 2.2, 1e-12);
    near(line.at(5), 5.2, 1e-12);
    expect(line.df).toBe(3);
    near(line.sd, Math.sqrt(0.8), 1e-12);
    near(line.rSquared, 0.6, 1e-12);
    // t of 3 degrees at 97.5 % is 3.182446305284263; at the centre the leverage is 1/5, at the end 1/5 + 4/10.
    near(line.halfWidth(3, 0.95), 3.182446305284263 * Math.sqrt(0.8 / 5), 1e-9);
    near(line.halfWidth(5, 0.95), 3.182446305284263 * Math.sqrt(0.8 * 0.6), 1e-9);
  });
  test("of the second degree meets a parabola, wherever it lies", () => {
    const far = xs.flatMap((x) => [1e6 + x, 1e6 + x]);
    const parabola = polynomialFit(
      far,
      far.map((x) => 3 + 2 * (x - 1e6) - (x - 1e6) ** 2),
      2,
    )!;
    for (const x of [0.5, 2.5, 7]) near(parabola.at(1e6 + x), 3 + 2 * x - x * x, 1e-8);
    near(parabola.rSquared, 1, 1e-12);
  });
  test("is none where there are too few places or observations", () => {
    expect(polynomialFit([1, 1, 1], [1, 2, 3], 1)).toBeUndefined();
    expect(polynomialFit([1, 2], [1, 2], 1)).toBeUndefined();
  });
});

test("efficient points are those that none beats by every response", () => {
  const points = [
    [1, 9],
    [2, 5],
    [2, 6],
    [3, 5],
    [4, 1],
    [Number.NaN, 0],
  ];
  expect(efficient(points, ["less", "less"])).toEqual([true, true, false, false, true, false]);
  expect(efficient(points, ["more", "less"])).toEqual([false, false, false, false, true, false]);
  // Two alike are both efficient.
  expect(
    efficient(
      [
        [1, 1],
        [1, 1],
      ],
      ["less", "less"],
    ),
  ).toEqual([true, true]);
});

describe("selection of the best, step by step", () => {
  const settings: SelectionSettings = {
    method: "kim and nelson",
    better: "less",
    p: 0.95,
    indifference: 0.5,
    firstStage: 10,
    most: 1000,
  };
  /** Observations by a system and a number: always the same ones. */
  const observed = (system: number, count: number): number[] =>
    Array.from({ length: count }, (_, r) => system * 0.6 + Math.sin((r + 1) * (7 + system)) * (1 + system / 3));
  const carriedOut = (more: Partial<SelectionSettings>, systems = 4) => {
    const all = { ...settings, ...more };
    const values: number[][] = Array.from({ length: systems }, () => []);
    for (let steps = 1; ; steps++) {
      const step = selectionStep(values, all);
      if (step.selected !== undefined) return { ...step, steps, values };
      values.forEach((of, i) => {
        const wanted = observed(i, step.wanted[i]);
        of.push(...wanted.slice(of.length));
      });
    }
  };

  test("asks for a first stage, then for more of those in play, and selects the best", () => {
    expect(selectionStep([[], [], []], settings)).toEqual({
      wanted: [10, 10, 10],
      inPlay: [true, true, true],
      selected: undefined,
      holds: true,
    });
    const found = carriedOut({});
    expect([found.selected, found.holds]).toEqual([0, true]);
    expect(found.inPlay).toEqual([true, false, false, false]);
    // The worse a system, the sooner it is out.
    expect(found.wanted[3]).toBeLessThanOrEqual(found.wanted[1]);
    expect(carriedOut({ better: "more" }).selected).toBe(3);
  });

  test("Rinott's second stage is as long as each one's deviation asks for", () => {
    const { selected, wanted } = carriedOut({ method: "rinott" });
    expect(selected).toBe(0);
    const h = rinottConstant(0.95, 4, 10);
    wanted.forEach((n, i) => {
      const values = observed(i, 10);
      const mean = values.reduce((sum, v) => sum + v, 0) / 10;
      const sd = Math.sqrt(values.reduce((sum, v) => sum + (v - mean) ** 2, 0) / 9);
      expect(n).toBe(Math.max(10, Math.ceil(((h * sd) / 0.5) ** 2)));
    });
  });

  test.each(["kim and nelson", "rinott"] as const)(
    "%s: goes by what it asked for, whatever more there is, as if it had not been interrupted",
    (method) => {
      const whole = carriedOut({ method });
      const more = whole.values.map((of, i) => observed(i, of.length + 500));
      const again = selectionStep(more, { ...settings, method });
      expect([again.selected, again.wanted, again.inPlay]).toEqual([whole.selected, whole.wanted, whole.inPlay]);
    },
  );

  test("gives up at the most replications, and says that nothing is promised", () => {
    for (const method of ["kim and nelson", "rinott"] as const) {
      const found = carriedOut({ method, indifference: 1e-4, most: 40 });
      expect(found.holds).toBe(false);
      expect(Math.max(...found.wanted)).toBe(40);
      expect(found.selected).toBe(0);
    }
  });
});

describe("a run to a precision", () => {
  const values = (count: number, spread: number): number[] =>
    Array.from({ length: count }, (_, r) => 20 + spread * Math.sin(12.9898 * (r + 1)) * Math.cos(78.233 * (r + 1)));
  /** The first number, ten or more, at which all intervals are small enough: by looking at each. */
  const firstBy = (columns: number[][], small: (interval: { mean: number; halfWidth: number }) => boolean): number => {
    for (let n = 10; ; n++) if (columns.every((c) => small(meanInterval(c.slice(0, n), 0.95)))) return n;
  };
  const carriedOut = (columns: number[][], goals: Precision[], most = 100_000) => {
    let [have, looks] = [0, 0];
    for (;;) {
      const step = precisionStep(
        columns.map((c) => c.slice(0, have)),
        goals,
        0.95,
        most,
      );
      looks += 1;
      if (step.isDone) return { ...step, have, looks };
      expect(step.wanted).toBeGreaterThan(have);
      expect(step.expected).toBeGreaterThanOrEqual(step.wanted);
      have = step.wanted;
    }
  };

  test("stops at the first number of replications at which every half-width is small enough", () => {
    const columns = [values(5000, 3), values(5000, 9)];
    const found = carriedOut(columns, [{ halfWidth: 0.4 }, { halfWidth: 0.4 }]);
    expect(found.wanted).toBe(firstBy(columns, ({ halfWidth }) => halfWidth <= 0.4));
    expect(found.isMet).toBe(true);
    // It does not look once a replication, nor run far beyond.
    expect(found.looks).toBeLessThan(20);
    expect(found.have).toBeLessThan(1.5 * found.wanted);
    // A share of the mean is made stricter, so that it holds of the true one.
    const relative = carriedOut([columns[1]], [{ relative: 0.02 }]);
    const share = 0.02 / 1.02;
    expect(relative.wanted).toBe(firstBy([columns[1]], ({ mean, halfWidth }) => halfWidth <= share * Math.abs(mean)));
  });

  test("takes ten at least, and gives up at the most", () => {
    expect(carriedOut([Array.from({ length: 50 }, () => 7)], [{ halfWidth: 1 }])).toMatchObject({
      wanted: 10,
      isMet: true,
    });
    expect(carriedOut([values(500, 9)], [{ halfWidth: 1e-6 }], 60)).toMatchObject({ wanted: 60, isMet: false });
    expect(precisionStep([[]], [{ halfWidth: 1 }], 0.95, 100)).toMatchObject({ wanted: 10, isDone: false });
  });

  test("goes by what is defined, and never stops where nothing is", () => {
    const gaps = values(4000, 5).map((v, i) => (i % 3 === 0 ? Number.NaN : v));
    const found = carriedOut([gaps], [{ halfWidth: 0.5 }]);
    const defined = gaps.slice(0, found.wanted).filter(Number.isFinite);
    expect(meanInterval(defined, 0.95).halfWidth).toBeLessThanOrEqual(0.5);
    expect(carriedOut([gaps.map(() => Number.NaN)], [{ halfWidth: 0.5 }], 30)).toMatchObject({
      wanted: 30,
      isMet: false,
    });
  });
});
