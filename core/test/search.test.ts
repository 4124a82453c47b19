import { readFileSync } from "node:fs";
import { compile, experimentSchema, measuresOf, readStudyText } from "../src/index.ts";
import { readSearch, searchKeys, triedOf } from "../src/experiments/index.ts";
import {
  allowedSize,
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

  test("counts the places that constraints allow", () => {
    const factors: SearchFactor[] = [
      { kind: "whole", low: 1, high: 4 },
      { kind: "whole", low: 1, high: 3 },
    ];
    expect(allowedSize({ factors, constraints: [] })).toBe(12);
    // 1+1 … 1+3, 2+1, 2+2, 3+1.
    expect(allowedSize({ factors, constraints: [{ coefficients: [1, 1], most: 4 }] })).toBe(6);
    const many: SearchFactor[] = [...factors, { kind: "real", low: 0, high: 1, steps: 9999 }];
    expect(allowedSize({ factors: many, constraints: [{ coefficients: [1, 1, 0], most: 4 }] })).toBeUndefined();
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

describe("a search by several responses", () => {
  /** Two costs that pull apart: the efficient places are those with x from 0 to 6 and y at its best. */
  const costs = ([x, y]: readonly number[]) => [(x - 6) ** 2 + 4 * (y - 1) ** 2, x ** 2 + 4 * (y - 1) ** 2] as const;
  const of: SearchSettings = {
    ...settings,
    factors: [
      { kind: "whole", low: -6, high: 12 },
      { kind: "real", low: 0, high: 2, steps: 20 },
    ],
    front: ["less"],
    budget: 2000,
  };

  const found = (settings: SearchSettings) => {
    const history: { point: readonly number[]; values: number[]; others: number[][] }[] = [];
    for (;;) {
      const step = searchStep(history, settings);
      if (step.phase === "over") return { step, history };
      step.wanted.forEach(({ point, replications }, i) => {
        history[i] ??= { point, values: [], others: [[]] };
        while (history[i].values.length < replications) {
          const r = history[i].values.length;
          const [a, b] = costs(valuesOf(settings, point));
          history[i].values.push(a + noise(point, r));
          history[i].others[0].push(b + noise(point, r + 0.5));
        }
      });
    }
  };

  test("finds efficient places all along the front, and shares what is left of the budget among them", () => {
    const { step, history } = found(of);
    const places = step.finalists.map((i) => valuesOf(of, step.wanted[i].point));
    expect(new Set(places.map(([x]) => x)).size).toBeGreaterThanOrEqual(5);
    for (const [x, y] of places) {
      expect(x).toBeGreaterThanOrEqual(0);
      expect(x).toBeLessThanOrEqual(6);
      expect(Math.abs(y - 1)).toBeLessThanOrEqual(0.45);
    }
    const spent = history.reduce((sum, { values }) => sum + values.length, 0);
    expect(spent).toBeLessThanOrEqual(of.budget);
    expect(spent).toBeGreaterThan(0.9 * of.budget);
    // None of them is worse than another by both.
    const means = step.finalists.map((i) =>
      [history[i].values, history[i].others[0]].map((c) => c.reduce((s, v) => s + v, 0) / c.length),
    );
    for (const a of means) expect(means.some((b) => b[0] < a[0] && b[1] < a[1])).toBe(false);
  });

  test("goes by what was observed alone: interrupted anywhere it goes on as if it had not been", () => {
    const { history } = found(of);
    for (let places = 8; places < history.length; places += 17) {
      const cut = history.slice(0, places).map(({ values, others, ...one }, i) => ({
        ...one,
        // The last few lack some of what was wanted of them.
        values: values.slice(0, i < places - 3 ? values.length : 2),
        others: others.map((column) => column.slice(0, i < places - 3 ? column.length : 2)),
      }));
      const { wanted } = searchStep(cut, of);
      expect(wanted.map(({ point }) => point)).toEqual(history.slice(0, wanted.length).map(({ point }) => point));
    }
  });

  test("a weighted sum counts each unit that is shown, and a front keeps the responses apart", () => {
    const read = readStudyText(readFileSync(new URL("../../demo/foot-passengers.json", import.meta.url), "utf8"));
    if (!read.ok) throw new Error("unreadable");
    const { study } = read;
    const design = study.designs[0];
    const desk = design.elements.find(({ kind }) => kind === "station")!;
    const measures = measuresOf(compile(study, design.id).program!);
    const wait = measures.find(({ measure, part }) => measure === "timeInSystem" && part === "mean")!.key;
    const use = measures.find(({ measure }) => measure === "utilization")!.key;
    const plan = (more: object) =>
      readSearch(
        study,
        experimentSchema.parse({
          id: "e",
          name: "E",
          factors: [{ id: "c", name: "Desks", at: ["elements", desk.id, "capacity"] }],
          search: {
            design: design.id,
            ranges: { c: { from: "1", to: "9" } },
            measure: wait,
            matters: "10 s",
            also: [{ measure: use, weight: -3 }],
            ...more,
          },
        }),
        measures,
      );
    const sum = plan({});
    if (!sum.ok) throw new Error(JSON.stringify(sum.problems));
    // Times are shown in minutes: a utilization of 1 counts as three minutes less.
    expect(
      triedOf(
        [
          [600, 300],
          [0.5, 1],
        ],
        false,
        sum.search,
      ),
    ).toEqual({ values: [510, 120] });
    expect(searchKeys(wait, "b", sum.search)).toEqual([wait, "b", use]);
    expect(triedOf([[600], [7], [0.5]], true, sum.search)).toEqual({ values: [510], bounded: [7] });
    const front = plan({ as: "front" });
    if (!front.ok) throw new Error(JSON.stringify(front.problems));
    expect(front.search.settings.front).toEqual(["less"]);
    expect(triedOf([[600], [0.5]], false, front.search)).toEqual({ values: [600], others: [[0.5]] });
    const wrong = plan({ also: [{ measure: "nothing" }], constraints: [{ coefficients: { c: 0 }, most: 3 }] });
    expect(wrong.ok ? [] : Object.keys(wrong.problems)).toEqual(["also", "constraints"]);
  });
});
