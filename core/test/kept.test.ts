import { readFileSync } from "node:fs";
import { compile, open, readStudyText, run, runLong, type Session, sourceOf, type Study } from "../src/index.ts";
import { AcrossReplications, binsOf, boxOf, curveOf, distributionOf, drawnPairs } from "../src/kept/index.ts";
import { hoursOfDay, meansByClass, piecesOf, roundBins, type Series, seriesOf } from "../src/kept/index.ts";
import { daysOpen, wholeDays } from "../src/timetable/index.ts";
import { chain, study } from "./study.ts";

/** A study in which everything is kept that can be. */
function keepingAll(of: Study, designId = of.designs[0].id) {
  const { program, problems } = compile(of, designId);
  if (!program) throw new Error(JSON.stringify(problems));
  const ids = [...new Set(open(program, { seed: 1, replication: 1 }).measures.flatMap((m) => sourceOf(m) ?? []))];
  return compile({ ...of, run: { ...of.run, kept: ids } }, designId).program!;
}

/** What is told in one replication, by source; and its session. */
function toldIn(program: NonNullable<ReturnType<typeof compile>["program"]>, more: object = {}) {
  const session = open(program, {
    seed: 7,
    replication: 1,
    ...more,
    keep: (source, at, value) => (pairs[source] ??= []).push(at, value),
  });
  const pairs: number[][] = [];
  session.advanceTo(session.length);
  const values = new Map(session.measures.map((m, i) => [m.key, session.result().values[i]]));
  return { session, values, pairs: session.kept.map((_, i) => Float64Array.from(pairs[i] ?? [])) };
}

const seriesAt = (session: Session, pairs: readonly Float64Array[], i: number): Series =>
  seriesOf("levels" in session.kept[i].from, pairs[i]);

const DEMOS = ["foot-passengers", "hull-workshop", "container-workshop", "chandlery-store"];

test.each(DEMOS)("what is kept of %s gives the very figures that are measured", (name) => {
  const read = readStudyText(readFileSync(new URL(`../../demo/${name}.json`, import.meta.url), "utf8"));
  if (!read.ok) throw new Error("unreadable");
  const { designs } = read.study;
  const program = keepingAll(read.study, designs[0].id);
  const { session, values, pairs } = toldIn(program);
  // All that is said to be kept is.
  const ids = new Set(session.kept.map(({ id }) => id));
  for (const m of session.measures) expect(ids.has(sourceOf(m) ?? m.key)).toBe(sourceOf(m) !== undefined);
  let compared = 0;
  session.kept.forEach(({ id, part }, i) => {
    const of = distributionOf([seriesAt(session, pairs, i)]);
    const figure = (name: string) => values.get(`${id}.${name}`);
    if (!of) return;
    if (part !== undefined) {
      expect(of.mean).toBeCloseTo(values.get(`${id}.${part}`)!, 9);
      compared += 1;
      return;
    }
    const mean = figure("mean") ?? Number.NaN;
    if (!Number.isFinite(mean)) return;
    compared += 1;
    expect(Math.abs(of.mean - mean)).toBeLessThanOrEqual(1e-9 * Math.max(1, Math.abs(mean)));
    if (figure("max") !== undefined) expect(of.most).toBeCloseTo(figure("max")!, 9);
    if (figure("p90") !== undefined && of.weight <= 4096) expect(of.quantile(0.9)).toBe(figure("p90"));
  });
  expect(compared).toBeGreaterThan(8);
});

test("of several elements together, of an expression, and of its own kind of entity", () => {
  const of = study({
    types: [
      { id: "t1", name: "Crate" },
      { id: "t2", name: "Letter" },
    ],
    elements: [
      { id: "a", kind: "arrivals", between: "exponential(4 min)" },
      { id: "b", kind: "arrivals", between: "exponential(4 min)", entityType: "t2" },
      { id: "s", kind: "station", time: "exponential(3 min)" },
      { id: "u", kind: "station", time: "exponential(3 min)", room: "no limit", breakdowns: [] },
      { id: "d", kind: "departures" },
    ],
    links: [...chain("a", "s", "d"), ...chain("b", "u", "d")].map((l, i) => ({ ...l, id: `k${i}` })),
    run: { length: "30 h", warmUp: "2 h" },
  });
  const [design] = of.designs;
  const grouped: Study = {
    ...of,
    designs: [
      {
        ...design,
        measures: [
          { id: "g", name: "Both", kind: "group", elements: ["s", "u"] },
          { id: "w", name: "Waiting", kind: "average", value: "s.queue.length + 2 * u.queue.length" },
          { id: "c", name: "Crowded", kind: "condition", condition: "s.queue.length > 1" },
        ],
      } as unknown as Study["designs"][number],
    ],
  };
  const { session, values, pairs } = toldIn(keepingAll(grouped));
  const meanOf = (id: string) =>
    distributionOf([
      seriesAt(
        session,
        pairs,
        session.kept.findIndex((one) => one.id === id),
      ),
    ])!.mean;
  for (const key of ["g/line.mean", "g/wait.mean", "d/timeInSystem.mean.t2", "w/mean", "c/share"])
    expect([key, meanOf(key.replace(".mean", ""))]).toEqual([key, expect.closeTo(values.get(key)!, 9)]);
  expect(meanOf("d/timeInSystem.t2")).not.toBeCloseTo(meanOf("d/timeInSystem.t1"), 6);
});

const desk = (run: object, kept: string[] = ["s/line", "s/wait", "t1/timeInSystem", "s/state"]) =>
  study({
    elements: [
      { id: "a", kind: "arrivals", between: "4 min", first: "0 min" },
      { id: "s", kind: "station", time: "6 min" },
      { id: "d", kind: "departures" },
    ],
    links: chain("a", "s", "d"),
    run: { length: "20 min", kept, ...run },
  });

test("by hand: waits, the line as it changes, and states, after the warm-up", () => {
  // In at 0, 4, 8, 12, 16, 20; worked on from 0, 6, 12, 18; out at 6, 12, 18.
  const { session, pairs } = toldIn(compile(desk({}), "d1").program!);
  const told = Object.fromEntries(
    session.kept.map(({ id, part }, i) => [part ?? id, [...pairs[i]].map((v) => v / 60)]),
  );
  expect(told["t1/timeInSystem"]).toEqual([6, 6, 12, 8, 18, 10]);
  expect(told["s/wait"]).toEqual([0, 0, 6, 2, 12, 4, 18, 6]);
  const line = session.kept.findIndex(({ id }) => id === "s/line");
  const [times, values] = [0, 1].map((k) => [...pairs[line]].filter((_, i) => i % 2 === k));
  expect(times.map((t) => t / 60)).toEqual([0, 4, 6, 8, 16, 18, 20]);
  // At 12 one comes as one goes: the line stays as it was.
  expect(values).toEqual([0, 1, 0, 1, 2, 1, 2]);
  expect([...pairs[session.kept.findIndex(({ part }) => part === "busy")]]).toEqual([0, 1, 1200, 1]);

  const late = toldIn(compile(desk({ warmUp: "9 min" }), "d1").program!);
  const at = late.session.kept.findIndex(({ id }) => id === "s/line");
  // At the end of the warm-up it is what it was.
  expect([...late.pairs[at]].slice(0, 4)).toEqual([540, 1, 960, 2]);
  expect([...late.pairs[late.session.kept.findIndex(({ id }) => id === "s/wait")]].map((v) => v / 60)).toEqual([
    12, 4, 18, 6,
  ]);
});

test("keeping changes no number, in one replication, of pairs, or of a long run", () => {
  for (const more of [{}, { kind: "pairs" }]) {
    const [plain, kept] = [[], ["s/wait"]].map((ids) => compile(desk({ length: "50 h", ...more }, ids), "d1").program!);
    const told: number[] = [];
    const result = run(kept, { seed: 3, replication: 2, keep: (_, at) => told.push(at) });
    expect(result).toEqual(run(plain, { seed: 3, replication: 2 }));
    expect(told.length).toBeGreaterThan(450);
    // Of a pair only the first: time never goes back.
    expect(told.every((at, i) => i === 0 || at >= told[i - 1])).toBe(true);
  }
  const at: number[] = [];
  const program = compile(desk({ length: "50 h", warmUp: "10 h", kind: "long" }, ["s/wait"]), "d1").program!;
  runLong(program, { seed: 3, batches: 10, keep: (_, now) => at.push(now) });
  expect(Math.min(...at)).toBeGreaterThanOrEqual(36_000);
  expect(at.length).toBe(401);
});

const pairsOf = (...values: number[]) => Float64Array.from(values.flatMap((v, i) => [i, v]));

test("a distribution of observations: mean, deviation, quantiles, box, curve", () => {
  const of = distributionOf([seriesOf(false, pairsOf(4, 1, 3)), seriesOf(false, pairsOf(2, 100))])!;
  expect([of.weight, of.mean, of.least, of.most, of.error]).toEqual([5, 22, 1, 100, 0]);
  expect(of.deviation).toBeCloseTo(Math.sqrt((324 + 441 + 361 + 400 + 6084) / 4), 12);
  expect([0, 0.2, 0.21, 0.5, 0.8, 1].map((p) => of.quantile(p))).toEqual([1, 1, 2, 3, 4, 100]);
  expect([0, 1, 3.5, 100].map((v) => of.share(v))).toEqual([0, 0.2, 0.6, 1]);
  expect(boxOf(of)).toEqual({ low: 1, lower: 2, median: 3, upper: 4, high: 4, below: 0, above: 0.19999999999999996 });
  expect(curveOf(of, 4)).toEqual({ values: [1, 2, 3, 4, 100], shares: [0.2, 0.4, 0.6, 0.8, 1] });
  expect(distributionOf([])).toBeUndefined();
  expect(distributionOf([seriesOf(false, pairsOf())])).toBeUndefined();
});

test("a distribution of a level weighs values by how long they lasted", () => {
  // 0 for 10 s, 2 for 30 s, 1 for 60 s.
  const of = distributionOf([seriesOf(true, Float64Array.of(0, 0, 10, 2, 40, 1, 100, 1))])!;
  expect([of.weight, of.mean, of.least, of.most]).toEqual([100, 1.2, 0, 2]);
  expect(of.deviation).toBeCloseTo(Math.sqrt(0.1 * 1.44 + 0.3 * 0.64 + 0.6 * 0.04), 12);
  expect([0.05, 0.1, 0.11, 0.7, 0.71].map((p) => of.quantile(p))).toEqual([0, 0, 1, 1, 2]);
  const bins = roundBins(of, true, 1);
  expect(bins).toEqual({ start: -0.5, width: 1, count: 3 });
  expect(binsOf([seriesOf(true, Float64Array.of(0, 0, 10, 2, 40, 1, 100, 1))], bins).weights).toEqual([10, 60, 30]);
});

test("bins of one's own: each from its start to below its end; what lies outside is told", () => {
  const { weights, below, above } = binsOf([seriesOf(false, pairsOf(1, 2, 2, 3, 3.99, 4, 9))], {
    start: 2,
    width: 1,
    count: 2,
  });
  expect([weights, below, above]).toEqual([[2, 2], 1, 2]);
});

test("bins are round in the unit that is shown", () => {
  const seconds = seriesOf(false, pairsOf(...Array.from({ length: 1000 }, (_, i) => 60 * (3 + (i % 100) / 10))));
  const { start, width, count } = roundBins(distributionOf([seconds])!, false, 60);
  expect([start / 60, width / 60]).toEqual([3, 1]);
  expect(count).toBe(10);
});

test("of more values than are kept quantiles lie within what they may be off, and bins stay exact", () => {
  const n = 1_300_000;
  const chunk = new Float64Array(2 * n);
  for (let i = 0; i < n; i++) {
    chunk[2 * i] = i;
    // Each of 0 … n - 1 once, in no order.
    chunk[2 * i + 1] = (i * 7919) % n;
  }
  const series = [seriesOf(false, chunk)];
  const of = distributionOf(series)!;
  expect(of.error).toBeCloseTo((n - 1) / 65_536, 9);
  for (const p of [0.01, 0.25, 0.5, 0.9, 0.999]) {
    const off = of.quantile(p) - (Math.ceil(p * n) - 1);
    expect(Math.abs(off)).toBeLessThanOrEqual(of.error);
  }
  expect(binsOf(series, { start: 0, width: n / 4, count: 4 }).weights).toEqual(Array(4).fill(n / 4));
});

test("means over pieces of time: of observations by when they were made, of a level by how long it lasted", () => {
  const pieces = piecesOf(0, 10, 3);
  expect([...meansByClass(seriesOf(false, Float64Array.of(1, 4, 9, 8, 10, 5, 31, 7)), pieces)]).toEqual([6, 5, NaN]);
  // 1 until 5, then 3 until 25.
  expect([...meansByClass(seriesOf(true, Float64Array.of(0, 1, 5, 3, 25, 3)), pieces)]).toEqual([2, 3, 3]);
});

test("by the hour of the day, nights simulated or skipped", () => {
  // From 23:30 on: 2 for an hour, then 4 for an hour.
  const level = seriesOf(true, Float64Array.of(0, 2, 3600, 4, 7200, 4));
  const night = meansByClass(level, hoursOfDay(wholeDays(23.5 * 3600)));
  expect([night[23], night[0], night[1]].map((v) => Math.round(v * 1e6) / 1e6)).toEqual([2, 3, 4]);
  expect(Number.isNaN(night[2])).toBe(true);
  // Open from 8 to 10:30, from 9 on: at 10:30 the next day begins at 8.
  const skipped = meansByClass(
    seriesOf(true, Float64Array.of(0, 1, 5400, 5, 9000, 5)),
    hoursOfDay(daysOpen(9 * 3600, 8 * 3600, 10.5 * 3600), 10.5 * 3600),
  );
  expect([8, 9, 10].map((h) => Math.round(skipped[h] * 1e6) / 1e6)).toEqual([5, 1, 1]);
});

test("across replications, class by class, those left out that have no value", () => {
  const across = new AcrossReplications(2);
  across.add(Float64Array.of(1, Number.NaN));
  across.add(Float64Array.of(3, 8));
  across.add(Float64Array.of(5, Number.NaN));
  expect(across.result).toEqual({ n: [3, 1], mean: [3, 8], deviation: [2, Number.NaN] });
});

test("a drawing of many pairs has the extremes of each column, in their order", () => {
  const pairs = Float64Array.from(Array.from({ length: 1000 }, (_, i) => [i, i === 457 ? 99 : i % 7]).flat());
  const { times, values } = drawnPairs(seriesOf(false, pairs), 10);
  expect(times.length).toBeLessThanOrEqual(40);
  expect(values[times.indexOf(457)]).toBe(99);
  expect([...times].sort((a, b) => a - b)).toEqual(times);
  expect(times[0]).toBe(0);
  expect(times.at(-1)).toBe(999);
  expect(drawnPairs(seriesOf(false, pairsOf(3, 1)), 10)).toEqual({ times: [0, 1], values: [3, 1] });
});
