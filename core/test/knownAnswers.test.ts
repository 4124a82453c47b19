import reference from "./reference/queueing.json";
import { chain, expectInterval, replicate, study } from "./build.ts";

/** Exact values by name; times in the reference are minutes (or as its text says). */
const exact = (name: string) => {
  const row = reference.find((r) => r.name === name);
  if (!row) throw new Error(`No reference ${name}`);
  return row.exact as unknown as Record<string, number>;
};

jest.setTimeout(240_000);

const REPLICATIONS = 20;
const MIN = 60;
/** Every measured half-width must stay under 2 % of the value. */
const NARROW = 0.02;

interface Case {
  readonly reference: string;
  readonly elements: Record<string, unknown>[];
  readonly links: Record<string, unknown>[];
  readonly length: string;
  readonly warmUp: string;
  /** Reference name, measure key, factor from the reference's unit to SI. */
  readonly checks: [name: string, key: string, factor: number][];
}

const arrivals = (between: string, more = {}) => ({ id: "in", kind: "arrivals", between, ...more });
const station = (id: string, time: string, more = {}) => ({ id, kind: "station", time, ...more });
const out = { id: "out", kind: "departures" };

const oneStation = [
  ["utilization", "s/utilization", 1],
  ["Wq", "s/wait.mean", MIN],
  ["W", "t1/timeInSystem.mean", MIN],
  ["Lq", "s/line.mean", 1],
  ["L", "t1/inSystem.mean", 1],
] as Case["checks"];

const cases: Case[] = [
  {
    reference: "M/M/1",
    elements: [arrivals("exponential(1.25 min)"), station("s", "exponential(1 min)"), out],
    links: chain("in", "s", "out"),
    length: "1000 d",
    warmUp: "2 d",
    checks: oneStation,
  },
  {
    reference: "M/M/3",
    elements: [arrivals("exponential(1 min / 2.4)"), station("s", "exponential(1 min)", { capacity: "3" }), out],
    links: chain("in", "s", "out"),
    length: "400 d",
    warmUp: "2 d",
    checks: oneStation,
  },
  {
    reference: "M/G/1 triangular",
    elements: [arrivals("exponential(1 / (21/h))"), station("s", "triangular(0.8 min, 1.9 min, 4.2 min)"), out],
    links: chain("in", "s", "out"),
    length: "1000 d",
    warmUp: "2 d",
    checks: oneStation,
  },
  {
    reference: "M/D/1",
    elements: [arrivals("exponential(1 min / 0.7)"), station("s", "1 min"), out],
    links: chain("in", "s", "out"),
    length: "300 d",
    warmUp: "2 d",
    checks: oneStation,
  },
  {
    reference: "M/M/2/5",
    elements: [
      arrivals("exponential(20 s)"),
      station("s", "exponential(0.5 min)", { capacity: "2", room: "3", whenFull: "lose" }),
      out,
    ],
    links: chain("in", "s", "out"),
    length: "100 d",
    warmUp: "1 d",
    checks: [
      ["P_block", "s/lost.share", 1],
      ["throughput", "s/throughput", 1 / MIN],
      ["L", "t1/inSystem.mean", 1],
      ["W", "t1/timeInSystem.mean", MIN],
      ["utilization", "s/utilization", 1],
    ],
  },
  {
    reference: "tandem with feedback",
    elements: [
      arrivals("exponential(2 min)"),
      station("s1", "exponential(1 min)"),
      station("s2", "exponential(1.4 min)"),
      out,
    ],
    links: [
      { from: "in", to: "s1" },
      { from: "s1", to: "s1", share: "20 %" },
      { from: "s1", to: "s2", share: "80 %" },
      { from: "s2", to: "out" },
    ],
    length: "500 d",
    warmUp: "2 d",
    checks: [
      ["W_system", "t1/timeInSystem.mean", MIN],
      ["utilization1", "s1/utilization", 1],
      ["utilization2", "s2/utilization", 1],
    ],
  },
  {
    reference: "dwell only (M/G/infinity)",
    elements: [arrivals("exponential(2 min)"), { id: "s", kind: "dwell", time: "uniform(10 min, 20 min)" }, out],
    links: chain("in", "s", "out"),
    length: "100 d",
    warmUp: "1 d",
    checks: [
      ["L", "s/inside.mean", 1],
      ["W", "t1/timeInSystem.mean", MIN],
    ],
  },
  {
    reference: "one pooled line",
    elements: [
      arrivals("exponential(1 min / 1.6)"),
      { id: "q", kind: "queue" },
      station("s", "exponential(1 min)", { capacity: "2" }),
      out,
    ],
    links: chain("in", "q", "s", "out"),
    length: "400 d",
    warmUp: "2 d",
    checks: [
      ["utilization", "s/utilization", 1],
      ["Wq", "q/wait.mean", MIN],
      ["W", "t1/timeInSystem.mean", MIN],
      ["Lq", "q/line.mean", 1],
      ["L", "t1/inSystem.mean", 1],
    ],
  },
  {
    reference: "two separate lines",
    elements: [
      arrivals("exponential(1 min / 1.6)"),
      station("s", "exponential(1 min)"),
      station("r", "exponential(1 min)"),
      out,
    ],
    links: [
      { from: "in", to: "s", share: "50 %" },
      { from: "in", to: "r", share: "50 %" },
      { from: "s", to: "out" },
      { from: "r", to: "out" },
    ],
    length: "1000 d",
    warmUp: "2 d",
    checks: [
      ["utilization", "s/utilization", 1],
      ["Wq", "s/wait.mean", MIN],
      ["W", "t1/timeInSystem.mean", MIN],
      ["Lq", "s/line.mean", 1],
    ],
  },
];

describe("known answers of queueing theory lie in 99.9 % intervals under 2 % wide", () => {
  test.each(cases)("$reference", async ({ reference: name, elements, links, length, warmUp, checks }) => {
    const known = exact(name);
    const replicated = await replicate(study({ elements, links, run: { length, warmUp } }), REPLICATIONS, 2207);
    for (const [quantity, key, factor] of checks)
      expectInterval(replicated.values(key), known[quantity] * factor, NARROW);
  });

  test("tandem with feedback: entities at each station, in line and in work together", async () => {
    const known = exact("tandem with feedback");
    const replicated = await replicate(
      study({ elements: cases[5].elements, links: cases[5].links, run: { length: "500 d", warmUp: "2 d" } }),
      REPLICATIONS,
      11,
    );
    for (const i of [1, 2]) {
      const line = replicated.values(`s${i}/line.mean`);
      const busy = replicated.values(`s${i}/utilization`);
      expectInterval(
        line.map((l, r) => l + busy[r]),
        known[`L${i}`],
        NARROW,
      );
    }
  });

  test("quantiles of an M/M/1 wait: P(Wq > t) = rho exp(-(mu - lambda) t)", async () => {
    const replicated = await replicate(
      study({ elements: cases[0].elements, links: cases[0].links, run: { length: "500 d", warmUp: "2 d" } }),
      REPLICATIONS,
      5,
    );
    for (const p of [0.5, 0.9, 0.95]) {
      const t = (Math.log(0.8 / (1 - p)) / 0.2) * MIN;
      const values = replicated.values(`s/wait.p${p * 100}`);
      const mean = values.reduce((a, b) => a + b) / values.length;
      expect(Math.abs(mean / t - 1)).toBeLessThan(0.03);
    }
  });
});
