import { assignStreams, compile, fingerprint, meanInterval, open, run, type Study, measuresOf } from "../src/index.ts";
import { openStreams } from "../src/random/streams.ts";
import { chain, study } from "./study.ts";

type Loose = Record<string, unknown>;
const line = (between: string, time: string, more: Loose = {}): Study =>
  assignStreams(
    study({
      elements: [
        { kind: "arrivals", id: "a", name: "A", between },
        { kind: "station", id: "s", name: "S", time },
        { kind: "departures", id: "d", name: "D" },
      ],
      links: chain("a", "s", "d"),
      run: { length: "100 min", warmUp: "0 min", kind: "pairs" },
      more,
    }),
  );
const alone = (s: Study): Study => ({ ...s, run: { ...s.run, kind: "terminating" } });
const valuesOf = (s: Study, key: string, count: number): number[] => {
  const { program, problems } = compile(s);
  if (!program) throw new Error(problems.map(({ message }) => message).join("\n"));
  const at = measuresOf(program).findIndex((m) => m.key === key);
  if (at < 0) throw new Error(`There is no ${key}.`);
  return Array.from({ length: count }, (_, i) => run(program, { seed: 5, replication: i + 1 })!.values[at]);
};
const variance = (values: readonly number[]) => {
  const mean = values.reduce((sum, v) => sum + v, 0) / values.length;
  return values.reduce((sum, v) => sum + (v - mean) ** 2, 0) / (values.length - 1);
};

test("mirrored, a stream draws 1 - u where it draws u, one by one and ahead", () => {
  const streams = openStreams(1, 1);
  const [uniform, exponential] = [streams.stream(3).uniform(), streams.stream(4).exponential(2)];
  const draw = (mirrored: boolean) => {
    streams.begin(1, 2, mirrored);
    return Array.from({ length: 150 }, () => [uniform(), exponential()] as const);
  };
  const [first, second] = [draw(false), draw(true)];
  first.forEach(([u, x], i) => {
    expect(second[i][0]).toBe(1 - u);
    // exp(-x/2) is 1 - u of the one, and u of the other.
    expect(Math.exp(-x / 2) + Math.exp(-second[i][1] / 2)).toBeCloseTo(1, 12);
  });
  expect(draw(false)).toEqual(first);
});

test("a pair is the mean of a replication and its antithetic one; of a single uniform draw nothing of chance is left", () => {
  const variables = [{ id: "v", name: "Work", value: "uniform(1 min, 3 min)" }];
  const s = line("10 min", "Work", { variables });
  for (const value of valuesOf(s, "s/state.busy", 5)) expect(value).toBeCloseTo((9 * 2) / 100, 12);
  const apart = valuesOf(alone(s), "s/state.busy", 5);
  expect(new Set(apart).size).toBe(5);

  const { program } = compile(s);
  const at = measuresOf(program!).findIndex((m) => m.key === "s/state.busy");
  const [first, second] = [false, true].map((mirrored) => {
    const session = open(program!, { seed: 5, replication: 2, mirrored });
    session.advanceTo(session.length);
    return session.result();
  });
  const pair = run(program!, { seed: 5, replication: 2 })!;
  expect(first.values[at]).toBe(apart[1]);
  expect(pair.values).toEqual(first.values.map((v, i) => (v + second.values[i]) / 2));
  expect(pair.events).toBe(first.events + second.events);
});

test("of a queue the mean over pairs is the same, and varies less than that of as many independent replications", () => {
  const s = line("exponential(10 min)", "exponential(5 min)");
  s.run.length = "2000 min";
  const pairs = valuesOf(s, "s/state.busy", 300);
  const each = valuesOf(alone(s), "s/state.busy", 600);
  const independent = Array.from({ length: 300 }, (_, i) => (each[2 * i] + each[2 * i + 1]) / 2);
  // By the F distribution with 299 and 299 degrees of freedom, 0.67 is passed by chance once in 3,000 times at most
  // where there is no difference.
  expect(variance(pairs) / variance(independent)).toBeLessThan(0.67);
  const [a, b] = [meanInterval(pairs, 0.999), meanInterval(each, 0.999)];
  expect(Math.abs(a.mean - b.mean)).toBeLessThan(a.halfWidth + b.halfWidth);
});

test("a source that is the same again in every replication is not mirrored", () => {
  const variables = [{ id: "v", name: "Work", value: "uniform(1 min, 3 min)" }];
  const s = line("10 min", "Work", { variables });
  const stream = s.variables![0].streams.value;
  s.streams.push({ stream, name: "", seed: null, again: true });
  const [value, other] = valuesOf(s, "s/state.busy", 2);
  expect(value).toBe(other);
  expect(value).toBe(valuesOf(alone(s), "s/state.busy", 1)[0]);
});

test("a pair whose second replication fails has failed, and pairs make another run", () => {
  // A negative time comes of large draws alone.
  const s = line("10 min", "if(Work > 1 min, Work, Work - 5 min)", {
    variables: [{ id: "v", name: "Work", value: "uniform(0 min, 2 min)" }],
  });
  const { program } = compile(s);
  for (const replication of [1, 2, 3, 4])
    expect(run(program!, { seed: 5, replication })!.failure?.message).toContain("gave");
  expect(fingerprint(s.designs[0], s.run, s)).not.toBe(fingerprint(s.designs[0], alone(s).run, s));
});
