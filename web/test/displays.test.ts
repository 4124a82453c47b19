import { record, startHistory } from "../src/displays/history.ts";

test("a history keeps the span asked for, and one point before it", () => {
  const history = startHistory();
  for (let t = 0; t <= 100; t += 10) record(history, t, [t, -t], 35);
  expect(history.times).toEqual([60, 70, 80, 90, 100]);
  expect(history.values).toEqual([
    [60, 70, 80, 90, 100],
    [-60, -70, -80, -90, -100],
  ]);
  // A picture of the same instant adds nothing.
  record(history, 100, [5, 5], 35);
  expect(history.times).toHaveLength(5);
});

test("a long history is thinned in its older half only, all lists alike", () => {
  const history = startHistory();
  for (let t = 0; t < 5000; t++) record(history, t, [2 * t], 1e9);
  expect(history.times.length).toBeLessThanOrEqual(1200);
  expect(history.values[0]).toEqual(history.times.map((t) => 2 * t));
  expect(history.times.slice(-100)).toEqual(Array.from({ length: 100 }, (_, i) => 4900 + i));
});
