import { readFileSync } from "node:fs";
import { join } from "node:path";
import fc from "fast-check";
import { compile, Curve, open, readStudyText, type Steps, Watched } from "../src/index.ts";

/** The value a step function has at a time. */
const at = ({ times, values }: Steps, time: number): number => {
  let i = times.length - 1;
  while (i > 0 && times[i] > time) i--;
  return values[i];
};

test("a curve that changes seldom is exact; what it passes through within an instant is no value it had", () => {
  const curve = new Curve(10);
  for (const [time, value] of [
    [0, 0],
    [2, 1],
    [2, 2],
    [5, 3],
    [5, 2],
    [7, 2],
    [9, 0],
  ])
    curve.record(time, value);
  expect(curve.steps).toEqual({ times: [0, 2, 9], values: [0, 2, 0] });
  expect(curve.max).toBe(2);
});

test("a value that cannot be read interrupts a curve once", () => {
  const curve = new Curve(10);
  for (const [time, value] of [
    [0, Number.NaN],
    [1, Number.NaN],
    [2, 4],
    [3, Number.NaN],
  ])
    curve.record(time, value);
  expect(curve.steps).toEqual({ times: [0, 2, 3], values: [Number.NaN, 4, Number.NaN] });
});

test("however often it changes, a thinned curve reaches the same least and greatest values in each column, and ends the same", () => {
  fc.assert(
    fc.property(
      fc.array(fc.tuple(fc.integer({ min: 1, max: 50 }), fc.integer({ min: -20, max: 20 })), {
        minLength: 200,
        maxLength: 900,
      }),
      (changes) => {
        const columns = 12;
        const curve = new Curve(columns);
        let time = 0;
        const all: [number, number][] = [];
        for (const [wait, value] of changes) {
          time += wait;
          curve.record(time, value);
          all.push([time, value]);
        }
        const { steps } = curve;
        expect(steps.times.length).toBeLessThanOrEqual(8 * columns + 1);
        expect(at(steps, time)).toBe(all.at(-1)![1]);
        // Each point kept is one that was.
        for (const [i, t] of steps.times.entries())
          expect(at({ times: all.map((a) => a[0]), values: all.map((a) => a[1]) }, t)).toBe(steps.values[i]);
        expect(Math.max(...steps.values)).toBe(Math.max(...all.map((a) => a[1])));
        expect(Math.min(...steps.values)).toBe(Math.min(...all.map((a) => a[1])));
      },
    ),
    { numRuns: 60 },
  );
});

test("of a curve with a span, the past before it is given up but for the value it begins with", () => {
  const curve = new Curve(5, 100);
  for (let time = 0; time < 1000; time++) curve.record(time, time % 7);
  const { times } = curve.steps;
  expect(times.length).toBeLessThanOrEqual(41);
  expect(times[0]).toBeGreaterThan(800);
  expect(times.at(-1)).toBe(999);
});

describe("a watched session", () => {
  const read = readStudyText(readFileSync(join(__dirname, "../../demo/container-workshop.json"), "utf8"));
  if (!read.ok) throw new Error("The demo cannot be read");
  const { study } = read;
  const program = compile(study, study.designs[0].id).program!;
  const begin = () => {
    const session = open(program, { seed: study.run.seed, replication: 1 });
    return { session, watched: new Watched(session, program.model) };
  };

  test("shows the same curves at whatever pace it is watched, and its figures have the same bits as unwatched", () => {
    const fast = begin();
    while (!fast.watched.advanceTo(Infinity, 5000));
    const slow = begin();
    for (let time = 0; !slow.session.ended; time += 20 / 3) slow.watched.advanceTo(time);
    expect(slow.watched.longestLines(4)).toEqual(fast.watched.longestLines(4));
    expect([...slow.watched.chartCurves()]).toEqual([...fast.watched.chartCurves()]);
    expect(fast.watched.longestLines(4).length).toBeGreaterThan(2);
    const plain = open(program, { seed: study.run.seed, replication: 1 });
    while (!plain.advanceTo(Infinity, 1e6));
    expect(fast.session.result().values).toEqual(plain.result().values);
    expect(slow.session.result().values).toEqual(plain.result().values);
  });

  test("has curves that agree with the state at any instant", () => {
    const { session, watched } = begin();
    for (let time = 0; time < 40_000; time += 1777) {
      watched.advanceTo(time);
      const { counts } = session.frame();
      for (const line of watched.longestLines(100)) expect(line.values.at(-1)).toBe(counts[line.element]);
    }
  });
});
