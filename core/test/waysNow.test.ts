import fc from "fast-check";
import { compile, measuresOf, metresAlong, open, run, type Study } from "../src/index.ts";
import { compiled, departuresOf, valuesOf } from "./oneRun.ts";
import { N, set } from "./logicModel.ts";
import { study } from "./study.ts";

type Loose = Record<string, unknown>;

const SHORT = [
  [0, 0],
  [100, 0],
];
const LONG = [
  [0, 0],
  [0, 50],
  [100, 50],
  [100, 0],
];

/** From a door to a way out 100 m off, straight or by a bypass of 200 m; who goes does 1 m/s. */
const fork = (
  short: Loose,
  more: {
    listed?: string;
    link?: Loose;
    elements?: Loose[];
    long?: Loose;
    design?: Loose;
    run?: Loose;
    study?: Loose;
  } = {},
): Study =>
  study({
    types: [{ id: "t1", name: "Guest", speed: "1 m/s" }],
    elements: [
      {
        id: "a",
        kind: "arrivals",
        name: "Door",
        by: "list",
        listed: more.listed ?? "0 s, 1 s, 2 s, 150 s",
        at: [0, 0],
      },
      { id: "d", kind: "departures", name: "Out", at: [100, 0] },
      ...(more.elements ?? []),
    ],
    links: [{ id: "l", from: "a", to: "d", kind: "ways", ...more.link }],
    run: { length: "2000 s", ...more.run },
    design: {
      roads: [
        { id: "s", name: "Straight", points: SHORT, from: "a", to: "d", ...short },
        { id: "b", name: "Bypass", points: LONG, from: "a", to: "d", ...more.long },
      ],
      ...more.design,
    },
    more: { variables: N, ...more.study },
  });

const sets = (first: string, value: string) => ({
  id: `r${first.replace(" ", "")}`,
  ...{ of: "system", event: "once", first },
  steps: [{ id: "s1", ...set(["N", value]) }],
});

describe("ways that count otherwise now and then, by hand", () => {
  test("who sets out takes the way that counts least then, by who is on it", () => {
    // While one is on it the straight way counts 300 m, and the bypass is nearer.
    expect(departuresOf(fork({ factor: "1 + 2 * way.on" }))).toEqual([100, 201, 202, 250]);
    // It counts 150 m with one, 200 with two: of equal ones the way that was drawn first.
    expect(departuresOf(fork({ factor: "1 + way.on / 2" }))).toEqual([100, 101, 102, 250]);
    expect(departuresOf(fork({ factor: "1 + way.on / 2" }, { listed: "0 s, 1 s, 2 s, 3 s" }))).toEqual([
      100, 101, 102, 203,
    ]);
    expect(valuesOf(fork({ factor: "1 + 2 * way.on" })).get("s/passed")).toBe(2);
  });

  test("by who waits to come onto it, and whether it is closed", () => {
    const narrow = { room: "1", factor: "1 + 2 * way.waiting" };
    // The second waits, the third goes round.
    expect(departuresOf(fork(narrow))).toEqual([100, 200, 202, 300]);
    const closed = { closedWhile: "N > 0", factor: "if(way.closed, 3, 1)" };
    const rules = [sets("0.5 s", "1"), sets("120 s", "0")];
    expect(departuresOf(fork(closed, { design: { rules } }))).toEqual([100, 201, 202, 250]);
  });

  test("by variables that rules set, and by the clock", () => {
    const rules = [sets("1.5 s", "1"), sets("100 s", "0")];
    expect(departuresOf(fork({ factor: "if(N > 0, 2.5, 1)" }, { design: { rules } }))).toEqual([100, 101, 202, 250]);
    expect(departuresOf(fork({ factor: "if(clock < 2 s, 2.5, 1)" }))).toEqual([102, 200, 201, 250]);
  });

  test("the quickest is that of the least time, so many times", () => {
    const of = (factor: string) => fork({ limit: "0.6 m/s", factor }, { link: { quickestAt: "1 m/s" } });
    // 100 m at 0.6 m/s take 167 s, the bypass 200.
    expect(departuresOf(of("if(clock < 2 s, 1.1, 1.3)")).map(Math.round)).toEqual([167, 168, 202, 350]);
  });

  test("vehicles, crews and those whom steps have walk do so too", () => {
    const rules = [sets("1 s", "1"), sets("500 s", "0")];
    const factor = { factor: "if(N > 0, 2.5, 1)" };
    const cart = {
      id: "v",
      kind: "vehicle",
      name: "Cart",
      at: [0, 0],
      over: "ways",
      ...{ load: "0 s", unload: "0 s" },
    };
    const carried = fork(factor, {
      listed: "0 s, 0 s, 0 s",
      elements: [{ ...cart, speed: "1 m/s", speedLoaded: "1 m/s" }],
      link: { kind: "carried", by: "v" },
      design: { rules },
    });
    // Straight there, round the bypass back and there, back by it from 500 on at 500: straight again.
    expect(departuresOf(carried)).toEqual([100, 500, 700]);
    const stewards = { id: "c", kind: "crew", name: "Stewards", at: [0, 0], walks: "over ways", speed: "1 m/s" };
    const escorted = fork(factor, {
      listed: "0 s, 0 s, 0 s",
      elements: [stewards],
      link: { kind: "escorted", by: "c" },
      design: { rules },
    });
    expect(departuresOf(escorted)).toEqual([100, 500, 700]);
    const walks = [
      {
        id: "w",
        of: "element",
        at: "d",
        event: "comes in",
        steps: [{ id: "s1", do: "walk to", to: "Door", over: "over ways" }],
      },
    ];
    const back = fork(factor, {
      listed: "0 s, 450 s",
      link: { kind: "direct" },
      design: { rules: [...rules, ...walks] },
    });
    // The first sets out before the rule, the second goes 200 m.
    expect(departuresOf(back)).toEqual([100, 650]);
  });

  test("they are seen on the way that they took", () => {
    const session = open(compiled(fork({ factor: "1 + 2 * way.on" })), { seed: 1, replication: 1 });
    session.advanceTo(60);
    const frame = session.frame();
    expect(frame.paths[0]).toEqual(SHORT);
    expect(frame.paths[1]).toEqual(LONG);
    expect(metresAlong(frame, 1, 60)).toBeCloseTo(59, 9);
    // Where ways never count otherwise none are told.
    const fixed = open(compiled(fork({ factor: "3" })), { seed: 1, replication: 1 });
    fixed.advanceTo(60);
    expect(fixed.frame().paths).toEqual({});
  });

  test("what is no number above 0 is told with the way that it is of", () => {
    const failure = run(compiled(fork({ factor: "1 - way.on" })), { seed: 1, replication: 1 })!.failure!;
    expect(failure).toMatchObject({ id: "s", field: "factor" });
    expect(failure.message).toBe('Straight: "Counts as" gave 0, and a way counts more than 0 times its length.');
    const problems = (factor: string) => compile(fork({ factor }), "d1").problems.map(({ message }) => message);
    expect(problems("-1")[0]).toContain("Counts as");
    expect(problems("uniform(1, 2)")[0]).toContain("Counts as");
    expect(problems("way")[0]).toContain("not a value");
    expect(problems("way.off")[0]).toContain('There is no ".off" here');
    expect(problems("1 m")[0]).toContain("Counts as");
  });
});

describe("who walks by steps and is held up by others", () => {
  test("is blocked meanwhile, as on a link, and not moving", () => {
    const narrow = (more: Parameters<typeof fork>[1]) => valuesOf(fork({ room: "1" }, { listed: "0 s, 1 s", ...more }));
    const link = narrow({ long: { points: [...LONG].reverse(), from: "d", to: "a", oneWay: true } });
    const steps = [{ id: "s1", do: "walk to", to: "Door", over: "over ways" }];
    const walked = narrow({
      link: { kind: "direct" },
      long: { oneWay: true },
      design: { rules: [{ id: "w", of: "element", at: "d", event: "comes in", steps }] },
    });
    for (const values of [link, walked]) {
      expect(values.get("t1/moving.mean")).toBe(100);
      expect(values.get("t1/blocked.mean")).toBe(99 / 2);
    }
  });
});

test("ways that always count the same give the bits of those for which that is known beforehand", () => {
  const factors = fc.tuple(fc.integer({ min: 1, max: 4 }), fc.integer({ min: 1, max: 4 }));
  const kinds = fc.constantFrom<Loose>(
    { kind: "ways" },
    { kind: "ways", quickestAt: "1 m/s" },
    { kind: "carried", by: "v" },
    { kind: "escorted", by: "c" },
  );
  const rooms = fc.constantFrom<Loose>({ follow: true }, { room: "2" }, { keepsOrder: true });
  fc.assert(
    fc.property(factors, kinds, rooms, fc.integer({ min: 1, max: 999 }), ([s, b], link, room, seed) => {
      const numbers = (write: (n: number) => string) => {
        const of = fork(
          { factor: write(s), ...room },
          {
            link,
            long: { factor: write(b), ...room, limit: "0.8 m/s" },
            elements: [
              {
                ...{ id: "v", kind: "vehicle", name: "Cart", at: [0, 0], over: "ways", count: "3" },
                ...{ speed: "2 m/s", speedLoaded: "1 m/s", load: "3 s", unload: "3 s" },
              },
              { id: "c", kind: "crew", name: "Stewards", count: "3", at: [0, 0], walks: "over ways", speed: "1.5 m/s" },
            ],
            design: {
              entityTypes: [{ id: "t1", name: "Guest", speed: "uniform(0.5 m/s, 1.5 m/s)" }],
            },
          },
        );
        const { program } = compile(withArrivals(of), "d1");
        const { values, failure } = run(program!, { seed, replication: 1 })!;
        expect(failure).toBeUndefined();
        // Of time that is added up stretch by stretch the last bit may be another.
        return measuresOf(program!).map(({ key }, i) => [
          key,
          key.endsWith("/moving.mean") ? values[i].toFixed(6) : values[i],
        ]);
      };
      expect(numbers((n) => `if(clock >= 0 s, ${n}, 1)`)).toEqual(numbers(String));
    }),
    { numRuns: 60, seed: 11 },
  );
});

/** Guests come at random times. */
const withArrivals = (of: Study): Study => {
  const [design] = of.designs;
  const elements = design.elements.map((e) =>
    e.id === "a" ? { ...e, by: "time between", between: "exponential(40 s)" } : e,
  );
  return { ...of, designs: [{ ...design, elements }] } as Study;
};
