import { RunStatistics } from "@busy-harbor/core/contract";
import type { RunFigures } from "../src/state/figures.ts";
import { LiveFigures, numbersOf, withValue } from "../src/state/liveFigures.ts";

const base64 = (values: readonly number[]) => Buffer.from(Float64Array.from(values).buffer).toString("base64");

test("numbers keep their bits on the way", () => {
  const values = [1 / 3, -0, 2 ** -1074, Number.MAX_VALUE];
  expect([...numbersOf(base64(values))].map((v, i) => Object.is(v, values[i]))).toEqual([true, true, true, true]);
});

test("what ends is counted once, and comes to its place in columns that are drawn", () => {
  const live = new LiveFigures("", []);
  const figures: RunFigures = {
    measures: [],
    statistics: live.numbers,
    columns: new Map([[1, { replications: [2], values: [20], errors: undefined }]]),
  };
  const once = live.add(figures, { replications: [3, 1], values: base64([5, 50, 7, 70]), errors: [null, [1, 0.5]] });
  const twice = live.add(once, { replications: [1], values: base64([7, 70]), errors: [null] });
  const expected = new RunStatistics();
  expected.add(3, [5, 50]);
  expected.add(1, [7, 70], [1, 0.5]);
  expect([...twice.statistics]).toEqual([...expected.numbers]);
  expect(twice.columns.get(1)).toEqual({ replications: [1, 2, 3], values: [70, 20, 50], errors: [0.5, 0, 0] });
});

test("a value that is there already stays as it is", () => {
  const column = { replications: [1, 2], values: [3, 4], errors: undefined };
  expect(withValue(column, 2, 9, 0)).toBe(column);
});
