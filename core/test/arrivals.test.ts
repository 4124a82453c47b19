import { compile, run, measuresOf } from "../src/index.ts";
import { expectInterval, measures, program, replicate, study } from "./build.ts";

type Loose = Record<string, unknown>;
const out = { id: "out", kind: "departures" };
const profile = (pattern: Loose[], fills: string, more: Loose = {}) => ({
  calendars: [{ id: "c", name: "Demand", gives: "rate", repeats: "pattern", pattern, fills, ...more }],
});
const day = profile(
  [
    { duration: "2 h", value: "6/h" },
    { duration: "1 h", value: "0/h" },
    { duration: "3 h", value: "20/h" },
  ],
  "6 h",
);
const one = (arrivals: Loose, run: Loose, more: Loose = {}, types?: Loose[]) =>
  measures(
    [{ id: "in", kind: "arrivals", ...arrivals }, { id: "d", kind: "dwell", time: "0 s" }, out],
    [
      { from: "in", to: "d" },
      { from: "d", to: "out" },
    ],
    run,
    types,
    more,
  );

test("even spacing follows the rate: one arrival each time its integral grows by 1", () => {
  const of = one({ by: "profile", profile: "c", spacing: "even" }, { length: "6 h" }, day);
  expect(of("in/created")).toBe(12 + 60);
  expect(one({ by: "profile", profile: "c", spacing: "even" }, { length: "3 h" }, day)("in/created")).toBe(12);
});

test("a Poisson process of a changing rate: counts by stretch have the mean and the variance they should", () => {
  const counts = (length: string) => {
    const p = program(
      study({
        elements: [{ id: "in", kind: "arrivals", by: "profile", profile: "c" }, out],
        links: [{ from: "in", to: "out" }],
        run: { length },
        more: day,
      }),
    );
    const at = measuresOf(p).findIndex((m) => m.key === "in/created");
    return Array.from({ length: 400 }, (_, r) => run(p, { seed: 31, replication: r + 1 })!.values[at]);
  };
  const stats = (values: number[]) => {
    const mean = values.reduce((a, b) => a + b) / values.length;
    return [mean, values.reduce((a, b) => a + (b - mean) ** 2, 0) / (values.length - 1)];
  };
  const [early, whole] = [counts("2 h"), counts("6 h")];
  const [, gap] = [early, counts("3 h")];
  // The same numbers up to there, and none in the hour of rate 0.
  expect(gap).toEqual(early);
  for (const [values, expected] of [
    [early, 12],
    [whole, 72],
    [whole.map((v, i) => v - early[i]), 60],
  ] as const) {
    const [mean, variance] = stats(values);
    expect(Math.abs(mean - expected)).toBeLessThan(4 * Math.sqrt(expected / 400));
    // Var(s²) is near 2σ⁴/(n − 1).
    expect(Math.abs(variance - expected)).toBeLessThan(4.5 * expected * Math.sqrt(2 / 399));
  }
});

test("M(t)/G/infinity: the mean number inside at a time of day, by Palm (1943)", async () => {
  const s = study({
    elements: [
      { id: "in", kind: "arrivals", by: "profile", profile: "c" },
      { id: "d", kind: "dwell", time: "exponential(45 min)" },
      out,
    ],
    links: [
      { from: "in", to: "d" },
      { from: "d", to: "out" },
    ],
    run: { length: "4 h" },
    more: day,
  });
  // m(t) = sum over stretches of rate × ∫ exp(−(t − u)/b) du, in hours, b = 0.75.
  const b = 0.75;
  const part = (rate: number, from: number, to: number) =>
    rate * b * (Math.exp(-(4 - to) / b) - Math.exp(-(4 - from) / b));
  const result = await replicate(s, 4000, 17);
  expectInterval(result.values("d/inside.end"), part(6, 0, 2) + part(20, 3, 4), 0.02);
}, 60_000);

test("listed times and gaps, in any order, and what ends them", () => {
  expect(one({ by: "list", listed: "30 s, 10 s\n20 s" }, { length: "25 s" })("in/created")).toBe(2);
  expect(one({ by: "list", listed: "30 s; 10 s; 20 s", listedAs: "gaps" }, { length: "45 s" })("in/created")).toBe(2);
  expect(one({ between: "10 s", until: "35 s" }, { length: "100 s" })("in/created")).toBe(3);
  expect(one({ between: "10 s", limit: "4" }, { length: "100 s" })("in/created")).toBe(4);
});

test("a mix of entity types by weights, with attributes given at birth", () => {
  const types = [
    { id: "t1", name: "Crate", attributes: [{ name: "size", value: "1" }] },
    { id: "t2", name: "Barrel", attributes: [{ name: "size", value: "2" }] },
  ];
  const mix = [
    { id: "a", entityType: "t1", share: "3" },
    { id: "b", entityType: "t2", share: "1" },
  ];
  const of = one(
    { between: "1 s", limit: "8000", mix, sets: [{ id: "s", attribute: "size", value: "7" }] },
    { length: "3 h" },
    {},
    types,
  );
  expect(of("t1/created") + of("t2/created")).toBe(8000);
  expect(Math.abs(of("t1/created") - 6000)).toBeLessThan(4 * Math.sqrt(8000 * 0.75 * 0.25));
  const session = program(
    study({
      elements: [
        { id: "in", kind: "arrivals", between: "1 s", mix, sets: [{ id: "s", attribute: "size", value: "7" }] },
        { id: "x", kind: "junction", wayOut: "condition" },
        { id: "seven", kind: "departures" },
        out,
      ],
      links: [
        { from: "in", to: "x" },
        { from: "x", to: "seven", condition: "entity.size = 7" },
        { from: "x", to: "out" },
      ],
      types,
      run: { length: "100 s" },
    }),
  );
  const values = run(session, { seed: 1, replication: 1 })!.values;
  expect(values[measuresOf(session).findIndex((m) => m.key === "out/departed")]).toBe(0);
});

test("what is missing is said", () => {
  const problems = (arrivals: Loose, more: Loose = {}) =>
    compile(
      study({ elements: [{ id: "in", kind: "arrivals", ...arrivals }, out], links: [{ from: "in", to: "out" }], more }),
    ).problems.map((p) => [p.code, p.field]);
  expect(problems({ by: "profile" })).toEqual([["missing-calendar", "profile"]]);
  expect(problems({ by: "profile", profile: "gone" })).toEqual([["missing-calendar", "profile"]]);
  expect(problems({ by: "profile", profile: "c" }, { calendars: [{ id: "c", name: "Shift", rows: [{}] }] })).toEqual([
    ["wrong-calendar", "profile"],
  ]);
  expect(problems({ by: "list", listed: "" })).toEqual([["bad-list", "listed"]]);
  expect(problems({ by: "list", listed: "3, 5" })).toEqual([["bad-list", "listed"]]);
  expect(problems({ mix: [{ id: "m", entityType: "gone" }] })).toEqual([["missing-entity-type", "mix.m.entityType"]]);
  expect(problems({ sets: [{ id: "s", attribute: "size", value: "1" }] })).toEqual([
    ["missing-attribute", "sets.s.attribute"],
  ]);
  expect(problems({ entityType: "" })).toEqual([["missing-entity-type", "entityType"]]);
  // A setting without use is not checked.
  expect(problems({ by: "list", listed: "1 s", between: "nonsense" })).toEqual([]);
});
