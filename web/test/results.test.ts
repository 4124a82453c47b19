import { type Design, type MeasureInfo, NUMBER, readStudy, type Study, TIME } from "@busy-harbor/core";
import type { RunSummary } from "@busy-harbor/core/contract";
import { nameOf, titleOf } from "../src/measure/chosen/ChosenProps.ts";
import { followedIn, positionOf } from "../src/measure/chosen/sources.ts";
import { nameOfKept } from "../src/measure/KeptList.tsx";
import type { Reading } from "../src/measure/readings.ts";
import { arePaired, besideOf } from "../src/measure/results/beside.ts";
import { belongsIn } from "../src/measure/results/grouping.ts";

const study: Study = (() => {
  const read = readStudy({
    format: "busy-harbor-study",
    version: 1,
    name: "Desks",
    designs: [
      {
        id: "d",
        name: "Base",
        entityTypes: [{ id: "t", name: "Visitor" }],
        elements: [
          { id: "s", kind: "station", name: "Desk", at: [0, 0] },
          { id: "f", kind: "station", name: "Booth", at: [9, 0], family: { count: 3 } },
          { id: "o", kind: "departures", name: "Out", at: [20, 0] },
        ],
        measures: [{ id: "g", kind: "group", name: "All desks", elements: ["s", "f"] }],
      },
    ],
  });
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  return read.study;
})();

const reading = (of: Partial<MeasureInfo>): Reading =>
  ({
    measure: {
      key: "k",
      ownerId: "s",
      owner: "Desk",
      ownerKind: "station",
      id: "wait.mean",
      measure: "wait",
      part: "mean",
      label: "Wait, mean",
      dimension: TIME,
      ...of,
    },
    index: 0,
    unit: "min",
    factor: 60,
  }) as Reading;

test("measures are put together by element, kind, type, quantity, group and family", () => {
  const belongs = belongsIn(study, { designId: "d" } as RunSummary);
  const desk = reading({});
  expect(["owner", "kind", "type", "quantity", "group", "family"].map((by) => belongs(desk, by as "owner"))).toEqual([
    "Desk",
    "stations",
    "of no one entity type",
    "Wait",
    "All desks",
    "in no family",
  ]);
  const booth = reading({ ownerId: "f/2", owner: "Booth 2" });
  expect([belongs(booth, "family"), belongs(booth, "group")]).toEqual(["Booth", "All desks"]);
  const out = reading({ ownerId: "o", ownerKind: "departures", measure: "timeInSystem", each: "t" });
  expect([belongs(out, "type"), belongs(out, "group")]).toEqual(["Visitor", "in no group"]);
  const type = reading({ ownerId: "t", owner: "Visitor", ownerKind: "entity type", measure: "timeInSystem" });
  expect(belongs(type, "type")).toBe("Visitor");
});

test("a measure is called without the figure that is chosen of it, but for the states of units", () => {
  expect(titleOf(reading({}).measure)).toBe("Desk: Wait");
  expect(nameOf(reading({ measure: "state", part: "busy", label: "Share of time busy" }).measure)).toBe(
    "Share of time busy",
  );
});

test("what is kept is found for each of its figures, and told once", () => {
  const kept = {
    sources: [
      { id: "s/wait", isLevel: false },
      { id: "s/state", part: "idle", isLevel: true },
      { id: "s/state", part: "busy", isLevel: true },
    ],
    from: 0,
    to: 60,
    startOfDay: 0,
    open: null,
    replications: [1],
  };
  const busy = reading({ measure: "state", part: "busy", dimension: NUMBER });
  const longest = reading({ part: "max" });
  const mean = reading({});
  const other = reading({ measure: "waited" });
  expect([busy, longest, mean, other].map((r) => positionOf(r, kept))).toEqual([2, 0, 0, undefined]);
  const followed = followedIn([longest, mean, busy, other], kept);
  expect(followed.map(({ source, reading: of }) => [source, of.measure.part])).toEqual([
    [0, "mean"],
    [2, "busy"],
  ]);
});

test("what is kept is named by whose it is, of members and of types too; what is gone by its id", () => {
  expect(
    ["s/wait", "f/2/wait", "t/timeInSystem", "o/timeInSystem.t", "gone/wait"].map((id) => nameOfKept(study, id)),
  ).toEqual([
    "Desk: Wait",
    "Booth 2: Wait",
    "Visitor: Time in system",
    "Out: Time in system by this exit of Visitor",
    "gone/wait",
  ]);
  expect(nameOfKept({ ...study, designs: [] as Design[] }, "s/wait")).toBe("s/wait");
});

describe("a measure beside that of another run", () => {
  const column = (values: number[], first = 1) => ({
    replications: values.map((_, i) => i + first),
    values,
    errors: undefined,
  });
  test("is paired over the replications that both have", () => {
    const { difference, halfWidth } = besideOf(column([5, 7, 9, 100]), column([4, 5, 6], 1), true, 0.95);
    expect(difference).toBe(2);
    // Differences 1, 2 and 3: t with two degrees of freedom at 95 % is 4.3026527.
    expect(halfWidth).toBeCloseTo(4.302652729911275 / Math.sqrt(3), 9);
  });
  test("is Welch's where the random numbers are others, and 0 wide where neither varies", () => {
    const apart = besideOf(column([1, 2, 3]), column([2, 4, 6, 8]), false, 0.95);
    expect(apart.difference).toBe(-3);
    expect(apart.halfWidth).toBeGreaterThan(2);
    expect(besideOf(column([1, 1]), column([3, 3]), false, 0.95)).toEqual({ difference: -2, halfWidth: 0 });
  });
  test("goes by the seed and the type of run", () => {
    const run = (seed: number, kind = "terminating") => ({ settings: { seed, kind } }) as RunSummary;
    expect([arePaired(run(1), run(1)), arePaired(run(1), run(2)), arePaired(run(1, "long"), run(1, "long"))]).toEqual([
      true,
      false,
      false,
    ]);
  });
});
