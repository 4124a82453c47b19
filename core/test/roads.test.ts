import fc from "fast-check";
import { compile, measuresOf, metresAlong, open, run, type Study } from "../src/index.ts";
import { type DrawnWay, WayNetwork } from "../src/movement/network.ts";
import { chain, study } from "./study.ts";

type Loose = Record<string, unknown>;
const way = (points: [number, number][], more: Partial<DrawnWay> = {}): DrawnWay => ({
  points,
  oneWay: false,
  limit: Infinity,
  ...more,
});

describe("ways joined into a network", () => {
  test("meet where they share a point, and where one ends on another; lines that cross do not", () => {
    const network = new WayNetwork([
      way([
        [0, 0],
        [100, 0],
      ]),
      // Ends in the middle of the first.
      way([
        [50, 0],
        [50, 40],
      ]),
      // Crosses the second without a point of its own there.
      way([
        [0, 20],
        [100, 20],
      ]),
    ]);
    expect(network.distance([0, 0], [50, 40])).toBe(90);
    expect(network.distance([100, 0], [50, 40])).toBe(90);
    expect(network.distance([0, 20], [50, 40])).toBe(Infinity);
    expect(network.route([0, 20], [50, 40])).toBeUndefined();
    expect(network.route([0, 0], [50, 40])!.points).toEqual([
      [0, 0],
      [50, 0],
      [50, 40],
    ]);
  });

  test("are left at places that lie on them, and nowhere else", () => {
    const network = new WayNetwork(
      [
        way([
          [0, 0],
          [30, 40],
        ]),
      ],
      [
        [15, 20],
        [15, 21],
      ],
    );
    expect([network.has([15, 20]), network.has([15, 21]), network.has([0, 0])]).toEqual([true, false, true]);
    expect(network.distance([0, 0], [15, 20])).toBeCloseTo(25, 12);
    expect(network.distance([0, 0], [15, 21])).toBe(Infinity);
  });

  test("one way is gone one way, and the way round is found", () => {
    const ring = new WayNetwork([
      way(
        [
          [0, 0],
          [10, 0],
          [10, 10],
          [0, 10],
          [0, 0],
        ],
        { oneWay: true },
      ),
    ]);
    expect(ring.distance([0, 0], [10, 0])).toBe(10);
    expect(ring.distance([10, 0], [0, 0])).toBe(30);
  });

  test("a route tells on which stretch which limit holds", () => {
    const network = new WayNetwork([
      way(
        [
          [0, 0],
          [10, 0],
          [20, 0],
        ],
        { limit: 2 },
      ),
      way([
        [20, 0],
        [50, 0],
      ]),
      way(
        [
          [50, 0],
          [55, 0],
        ],
        { limit: 2 },
      ),
    ]);
    expect(network.route([0, 0], [55, 0])!.stretches).toEqual([
      { from: 0, length: 20, limit: 2 },
      { from: 20, length: 30, limit: Infinity },
      { from: 50, length: 5, limit: 2 },
    ]);
    expect(network.route([55, 0], [55, 0])).toEqual({ length: 0, points: [[55, 0]], stretches: [] });
  });

  test("routes over random ways are no longer than any way round, and as long as their pieces", () => {
    const spot = fc.tuple(fc.integer({ min: 0, max: 6 }), fc.integer({ min: 0, max: 6 }));
    fc.assert(
      fc.property(fc.array(fc.tuple(spot, spot, fc.boolean()), { minLength: 1, maxLength: 14 }), (drawn) => {
        const at = ([x, y]: readonly [number, number]): [number, number] => [x * 10, y * 10];
        const ways = drawn.map(([a, b, oneWay]) => way([at(a), at(b)], { oneWay }));
        const network = new WayNetwork(ways);
        const ends = [...new Map(ways.flatMap(({ points }) => points).map((p) => [p.join(), p])).values()];
        for (const a of ends)
          for (const b of ends) {
            const route = network.route(a, b);
            if (route) expect(route.length).toBeCloseTo(network.distance(a, b), 9);
            else expect(network.distance(a, b)).toBe(Infinity);
            if (!route) continue;
            let sum = 0;
            for (let i = 1; i < route.points.length; i++)
              sum += Math.hypot(
                route.points[i][0] - route.points[i - 1][0],
                route.points[i][1] - route.points[i - 1][1],
              );
            expect(sum).toBeCloseTo(route.length, 9);
            expect(route.stretches.reduce((s, { length }) => s + length, 0)).toBeCloseTo(route.length, 9);
            for (const c of ends)
              expect(network.distance(a, b)).toBeLessThanOrEqual(
                network.distance(a, c) + network.distance(c, b) + 1e-9,
              );
          }
      }),
      { numRuns: 60 },
    );
  });
});

describe("links over ways", () => {
  const yard = (more: { types?: Loose[]; elements?: Loose[]; run?: Loose } = {}): Study =>
    study({
      types: more.types ?? [{ id: "t1", name: "Walker", speed: "2 m/s" }],
      elements: [
        { id: "a", kind: "arrivals", between: "1 h", first: "0 s", at: [0, 0] },
        { id: "d", kind: "departures", at: [100, 0] },
        ...(more.elements ?? []),
      ],
      links: chain("a", "d").map((l) => ({ ...l, id: "l", kind: "ways" })),
      run: { length: "10 min", ...more.run },
      more: {},
    });
  const withRoads = (of: Study, roads: Loose[]): Study => {
    const [design] = of.designs;
    const drawn = roads.map((road, i) => ({
      ...{ id: `r${i}`, name: "", kind: "walkway", from: "", to: "", oneWay: false, limit: "", width: 2 },
      ...road,
    }));
    return { ...of, designs: [{ ...design, roads: drawn as never }] };
  };
  const detour = [
    {
      points: [
        [0, 0],
        [0, 30],
        [60, 30],
      ],
    },
    {
      points: [
        [60, 30],
        [60, 0],
        [100, 0],
      ],
      limit: "1 m/s",
    },
  ];
  const timeOf = (of: Study, key: string): number => {
    const { program, problems } = compile(of, "d1");
    if (!program) throw new Error(JSON.stringify(problems));
    const at = measuresOf(program).findIndex((m) => m.key === key);
    return run(program, { seed: 1, replication: 1 })!.values[at];
  };

  test("are gone at the type's speed, and no faster than each way allows", () => {
    // 90 m at 2 m/s, then 70 m at 1 m/s.
    expect(timeOf(withRoads(yard(), detour), "t1/timeInSystem.mean")).toBe(115);
    expect(timeOf(withRoads(yard(), detour), "t1/moving.mean")).toBe(115);
    const free = detour.map(({ points }) => ({ points }));
    expect(timeOf(withRoads(yard(), free), "t1/timeInSystem.mean")).toBe(80);
    // A shorter way is taken as soon as it is drawn.
    const short = [
      ...free,
      {
        points: [
          [0, 0],
          [100, 0],
        ],
      },
    ];
    expect(timeOf(withRoads(yard(), short), "t1/timeInSystem.mean")).toBe(50);
  });

  test("a speed that is drawn is drawn once for all of a route", () => {
    const drawn = yard({ types: [{ id: "t1", name: "Walker", speed: "uniform(1 m/s, 3 m/s)" }] });
    const slow = detour.map((road) => ({ ...road, limit: "100 m/s" }));
    const mixed = [{ ...slow[0], limit: "99 m/s" }, slow[1]];
    expect(timeOf(withRoads(drawn, mixed), "t1/timeInSystem.mean")).toBeCloseTo(
      timeOf(withRoads(drawn, slow), "t1/timeInSystem.mean"),
      9,
    );
  });

  test("one is exactly where its speed has taken it, at any instant, whichever limit holds", () => {
    const { program } = compile(withRoads(yard(), detour), "d1");
    const session = open(program!, { seed: 1, replication: 1 });
    for (const [time, metres] of [
      [0, 0],
      [10, 20],
      [44.5, 89],
      [45, 90],
      [46, 91],
      [100, 145],
      [114, 159],
    ]) {
      session.advanceTo(time);
      const frame = session.frame();
      expect([time, frame.count]).toEqual([time, 1]);
      expect(metresAlong(frame, 0, time)).toBeCloseTo(metres, 9);
    }
    session.advanceTo(115);
    expect(session.frame().count).toBe(0);
  });

  test("an element stands on a way where one ends at it, and moves with it; one that no way comes to is told", () => {
    const attached = withRoads(yard(), [
      {
        points: [
          [5, 5],
          [7, 7],
        ],
        from: "a",
        to: "d",
      },
    ]);
    expect(timeOf(attached, "t1/timeInSystem.mean")).toBe(50);
    const off = compile(
      withRoads(yard(), [
        {
          points: [
            [0, 0],
            [90, 0],
          ],
        },
      ]),
      "d1",
    );
    expect(off.problems).toMatchObject([
      { code: "no-route", id: "l", field: "kind", message: "No walkway or road comes to d." },
    ]);
    const oneWay = compile(
      withRoads(yard(), [
        {
          points: [
            [100, 0],
            [0, 0],
          ],
          oneWay: true,
        },
      ]),
      "d1",
    );
    expect(oneWay.problems[0].message).toBe("No way leads from a to d over the walkways and roads.");
    const none = compile(yard(), "d1");
    expect(none.problems[0].message).toBe("No walkway or road comes to a.");
    const still = compile(
      withRoads(yard(), [
        {
          points: [
            [0, 0],
            [100, 0],
          ],
          limit: "0 m/s",
        },
      ]),
      "d1",
    );
    expect(still.problems[0]).toMatchObject({ id: "r0", field: "limit" });
  });
});
