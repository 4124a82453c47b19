import { intervalOf } from "@busy-harbor/core";
import type { Reading } from "../src/measure/readings.ts";
import { worthALook } from "../src/measure/worthALook.ts";

/** A figure of a run of ten replications, by its key: `owner/measure.part`. */
const reading = (
  key: string,
  mean: number,
  more: { kind?: string; sd?: number; max?: number; n?: number } = {},
): Reading => {
  const { kind = "station", sd = 0, max = mean, n = 10 } = more;
  const [owner, id] = key.split("/");
  const [measure, part] = id.endsWith(".share") ? [id, undefined] : (id.split(".") as [string, string | undefined]);
  const interval = intervalOf({ n, mean, squares: sd * sd * (n - 1), min: mean, max, errors: 0 }, 0.95);
  return {
    measure: {
      key,
      ownerId: owner,
      owner,
      ownerKind: kind,
      id,
      measure,
      part,
      label: measure,
      dimension: [0, 0, 0, 0],
    },
    index: 0,
    interval,
    unit: "",
    factor: 1,
    squares: 0,
    differences: 0,
  };
};
const said = (...readings: Reading[]) => worthALook(readings).map(({ text }) => text);
const type = { kind: "entity type" };

test("a system that settles is told by what is busiest and where the longest line stands", () => {
  expect(
    said(
      reading("Desk/utilization", 0.8),
      reading("Scales/utilization", 0.5),
      reading("Desk/line.mean", 3.2),
      reading("Desk/line.max", 9, { max: 14 }),
      reading("Scales/line.mean", 0.6),
      reading("Crate/inSystem.end", 5, { ...type, sd: 3 }),
      reading("Crate/inSystem.mean", 4.8, { ...type, sd: 0.4 }),
      reading("Desk/state.blocked", 0.01),
    ),
  ).toEqual(["Busiest: Desk, at work 80 % of the time.", "Longest line: Desk, 3.2 in it on average, up to 14."]);
});

test("growth comes first, then the lost, what is at its limit, and what holds work up", () => {
  const found = worthALook([
    reading("Desk/utilization", 0.99),
    reading("Scales/state.blocked", 0.3),
    reading("Scales/state.down", 0.1),
    reading("Crate/lost", 12, type),
    reading("Queue/lost", 12, { kind: "queue" }),
    reading("Desk/gaveUp.share", 0.07),
    reading("Crate/inSystem.end", 40, { ...type, sd: 5 }),
    reading("Crate/inSystem.mean", 20, { ...type, sd: 2 }),
  ]);
  expect(found.map(({ weight }) => weight)).toEqual([5, 4, 4, 3, 2, 2]);
  expect(found[0].text).toMatch(/^Crate: 40 in the system at the end, 20 on average\. Their number may grow/);
  expect(found[1].text).toBe("Crate: 12 lost for want of room.");
  expect(found[3].text).toMatch(/^Desk: at work 99 % of the time/);
  expect(found[4].text).toMatch(/^Scales: blocked 30 %/);
});

test("what is more at the end by chance, or in a single sample, is no growth", () => {
  const twice = (more: object) =>
    said(reading("Crate/inSystem.end", 40, { ...type, ...more }), reading("Crate/inSystem.mean", 20, type));
  expect(twice({ sd: 1 })).toHaveLength(1);
  expect(twice({ sd: 30 })).toEqual([]);
  expect(twice({ n: 1 })).toEqual([]);
});

test("groups are no stations of their own, and what is nothing is not told", () => {
  expect(said(reading("Yard/utilization", 0.99, { kind: "group" }), reading("Desk/line.mean", 0))).toEqual([]);
});
