import fc from "fast-check";
import { Calendar } from "../src/kernel/calendar.ts";
import { seedWords } from "../src/random/mrg32k3a.ts";
import { RandomStream } from "../src/random/randomStream.ts";
import { Level } from "../src/statistics/level.ts";
import { mergeTallies, Tally } from "../src/statistics/tally.ts";

describe("the event calendar", () => {
  test.each([
    ["in a heap", undefined, 3],
    ["with later ones kept apart", 3, 3],
    ["with later ones kept apart, at times close together", 5, 1e-9],
  ])(
    "gives events by time, class, then order of scheduling, whatever is cancelled between: %s",
    (_, fewest, spread) => {
      const action = fc.oneof(
        {
          weight: 5,
          arbitrary: fc.record({
            do: fc.constant("schedule" as const),
            time: fc.integer({ min: 0, max: 20 }),
            eventClass: fc.integer({ min: 0, max: 3 }),
          }),
        },
        { weight: 2, arbitrary: fc.record({ do: fc.constant("cancel" as const), pick: fc.nat() }) },
        { weight: 3, arbitrary: fc.record({ do: fc.constant("pop" as const) }) },
      );
      fc.assert(
        fc.property(fc.array(action, { minLength: 50, maxLength: 400, size: "max" }), (actions) => {
          const calendar = new Calendar(fewest);
          const model: { token: number; time: number; eventClass: number; order: number }[] = [];
          // Tokens are used again, as in the pool.
          const unused = Array.from({ length: 400 }, (_, i) => i);
          let order = 0;
          let now = 0;
          for (const act of actions) {
            if (act.do === "schedule") {
              const token = unused.shift()!;
              const time = now + act.time * spread;
              calendar.due[0] = time;
              calendar.schedule(token, act.eventClass);
              model.push({ token, time, eventClass: act.eventClass, order: order++ });
            } else if (act.do === "cancel") {
              if (model.length === 0) {
                expect(calendar.cancel(9999)).toBe(false);
                continue;
              }
              const [gone] = model.splice(act.pick % model.length, 1);
              expect(calendar.timeOf(gone.token)).toBe(gone.time);
              expect(calendar.cancel(gone.token)).toBe(true);
              expect(calendar.timeOf(gone.token)).toBeNaN();
              unused.unshift(gone.token);
            } else if (model.length > 0) {
              model.sort((a, b) => a.time - b.time || a.eventClass - b.eventClass || a.order - b.order);
              const next = model.shift()!;
              expect([calendar.nextTime, calendar.nextClass]).toEqual([next.time, next.eventClass]);
              expect(calendar.pop()).toBe(next.token);
              now = next.time;
              unused.unshift(next.token);
            }
            expect(calendar.size).toBe(model.length);
          }
        }),
        { numRuns: 150, seed: 3 },
      );
    },
  );
});

describe("meters", () => {
  test("a level integrates exactly and restarts at its present value", () => {
    const clock = new Float64Array(1);
    const level = new Level(clock);
    level.add(2);
    clock[0] = 3;
    level.add(1);
    clock[0] = 5;
    level.add(-3);
    expect([level.integral, level.max, level.value]).toEqual([12, 3, 0]);
    level.add(4);
    clock[0] = 6;
    level.restart();
    expect([level.integral, level.max]).toEqual([0, 4]);
    clock[0] = 7.5;
    expect(level.integral).toBe(6);
  });

  test("what a level passes through within an instant is no value that it had", () => {
    const clock = new Float64Array(1);
    const level = new Level(clock);
    clock[0] = 1;
    level.add(5);
    level.add(-5);
    clock[0] = 2;
    expect(level.max).toBe(0);
    level.add(-2);
    clock[0] = 3;
    level.restart();
    expect(level.max).toBe(-2);
  });

  const orderStatistic = (values: readonly number[], p: number) =>
    [...values].sort((a, b) => a - b)[Math.max(1, Math.ceil(p * values.length)) - 1];

  test("quantiles of up to 4096 observations above 0 are exact, whatever of them are 0", () => {
    fc.assert(
      fc.property(
        fc.array(fc.oneof(fc.constant(0), fc.double({ min: 1e-6, max: 1e7, noNaN: true })), {
          minLength: 1,
          maxLength: 300,
        }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (values, p) => {
          const tally = new Tally();
          values.forEach((v) => tally.add(v));
          expect(tally.quantile(p)).toEqual({ value: orderStatistic(values, p), error: 0 });
        },
      ),
      { numRuns: 500, seed: 4 },
    );
    expect(new Tally().quantile(0.5).value).toBeNaN();
  });

  test.each([4096, 4097, 9000])(
    "of %i observations they lie within the error that is told, at most 0.8 %%, and never beyond least and most",
    (n) => {
      fc.assert(
        fc.property(
          fc.integer({ min: 1, max: 1e6 }),
          fc.double({ min: 0.001, max: 3, noNaN: true }),
          (seed, spread) => {
            const tally = new Tally();
            const uniform = new RandomStream(seedWords(seed)).uniform();
            const values = Array.from({ length: n }, () => 600 * Math.exp(spread * (uniform() - 0.5)));
            values.forEach((v) => tally.add(v));
            const sorted = [...values].sort((a, b) => a - b);
            for (const p of [0, 0.001, 0.5, 0.9, 0.95, 0.99, 1]) {
              const exact = sorted[Math.max(1, Math.ceil(p * n)) - 1];
              const { value, error } = tally.quantile(p);
              expect(Math.abs(value - exact)).toBeLessThanOrEqual(error);
              expect(error).toBeLessThanOrEqual(n <= 4096 ? 0 : 0.008 * exact);
              expect(value).toBeGreaterThanOrEqual(sorted[0]);
              expect(value).toBeLessThanOrEqual(sorted[n - 1]);
            }
          },
        ),
        { numRuns: 3, seed: 4 },
      );
    },
  );

  test("many equal observations have that value as every quantile, and it is exact", () => {
    for (const constant of [600, 601, 607]) {
      const tally = new Tally();
      for (let i = 0; i < 10_000; i++) tally.add(constant);
      expect([0.5, 0.9, 0.99].map((p) => tally.quantile(p))).toEqual(Array(3).fill({ value: constant, error: 0 }));
    }
  });

  test("zeros count in quantiles of all, and not in those of who waited", () => {
    const tally = new Tally();
    for (let i = 0; i < 90; i++) tally.addZero();
    for (let i = 0; i < 10; i++) tally.add(64);
    expect([tally.quantile(0.9).value, tally.quantile(0.91).value, tally.quantile(0.5, true).value]).toEqual([
      0, 64, 64,
    ]);
  });

  test("a tally that is used again forgets what it counted in bins", () => {
    const tally = new Tally();
    for (let i = 1; i <= 9000; i++) tally.add(i);
    tally.restart();
    for (const value of [3, 1, 2]) tally.add(value);
    expect([tally.count, tally.quantile(0.5), tally.max]).toEqual([3, { value: 2, error: 0 }, 3]);
    for (let i = 1; i <= 9000; i++) tally.add(i);
    expect(Math.abs(tally.quantile(0.5).value - 4500)).toBeLessThan(36);
  });

  test.each([500, 5000, 30_000])("merged tallies are the tally of all %i observations", (n) => {
    const [all, a, b] = [new Tally(), new Tally(), new Tally()];
    for (let i = 0; i < n; i++) {
      const value = (i * 37) % 101;
      all.add(value);
      (i % 3 === 0 ? a : b).add(value);
    }
    const merged = mergeTallies([a, b]);
    const facts = (t: Tally) => [t.count, t.mean, t.max, t.positive, t.quantile(0.5), t.quantile(0.95)];
    expect(facts(merged)).toEqual(facts(all));
    expect(new Tally().mean).toBeNaN();
  });
});
