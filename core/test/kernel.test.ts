import fc from "fast-check";
import { Calendar } from "../src/kernel/calendar.ts";
import { Histogram } from "../src/statistics/histogram.ts";
import { Level } from "../src/statistics/level.ts";
import { mergeTallies, Tally } from "../src/statistics/tally.ts";

describe("the event calendar", () => {
  test.each([["in a heap", undefined, 3], ["with later ones kept apart", 3, 3], ["with later ones kept apart, at times close together", 5, 1e-9]])("gives events by time, class, then order of scheduling, whatever is cancelled between: %s", (_, fewest, spread) => {
    const action = fc.oneof(
      { weight: 5, arbitrary: fc.record({ do: fc.constant("schedule" as const), time: fc.integer({ min: 0, max: 20 }), eventClass: fc.integer({ min: 0, max: 3 }) }) },
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
  });
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

  test("quantiles of a histogram are within 0.8 % of the observations'", () => {
    fc.assert(
      fc.property(fc.array(fc.double({ min: 1e-6, max: 1e7, noNaN: true }), { minLength: 1, maxLength: 200 }), fc.double({ min: 0.01, max: 1, noNaN: true }), (values, p) => {
        const histogram = new Histogram();
        values.forEach((v) => histogram.add(v));
        const exact = [...values].sort((a, b) => a - b)[Math.max(1, Math.ceil(p * values.length)) - 1];
        expect(Math.abs(histogram.quantile(p) / exact - 1)).toBeLessThanOrEqual(0.008);
      }),
      { numRuns: 500, seed: 4 },
    );
  });

  test("zeros count in quantiles of all, and not in those of who waited", () => {
    const histogram = new Histogram();
    for (let i = 0; i < 90; i++) histogram.addZero();
    for (let i = 0; i < 10; i++) histogram.add(64);
    expect(histogram.quantile(0.9)).toBe(0);
    expect(histogram.quantile(0.91)).toBeCloseTo(64.5, 1);
    expect(histogram.quantile(0.5, true)).toBeCloseTo(64.5, 1);
    expect(new Histogram().quantile(0.5)).toBeNaN();
  });

  test("merged tallies are the tally of all observations", () => {
    const [all, a, b] = [new Tally(), new Tally(), new Tally()];
    for (let i = 0; i < 500; i++) {
      const value = (i * 37) % 101;
      all.add(value);
      (i % 3 === 0 ? a : b).add(value);
    }
    const merged = mergeTallies([a, b]);
    const facts = (t: Tally) => [t.count, t.mean, t.max, t.positive, t.histogram.quantile(0.5), t.histogram.quantile(0.95)];
    expect(facts(merged)).toEqual(facts(all));
    expect(new Tally().mean).toBeNaN();
  });
});
