import fc from "fast-check";
import { compile, measuresOf, metresAlong, open, run, type Study, UNIT } from "../src/index.ts";
import { compiled, departuresOf, valuesOf } from "./oneRun.ts";
import { study } from "./study.ts";

type Loose = Record<string, unknown>;

/** Jobs come at once to three machines on a line, and a fitter from the origin does them. */
const shop = (
  crew: Loose,
  more: {
    machines?: readonly number[];
    jobs?: string;
    run?: Loose;
    roads?: Loose[];
    station?: Loose;
    more?: Loose;
  } = {},
): Study => {
  const places = more.machines ?? [30, 10, -25];
  const of = study({
    elements: [
      ...places.map((_, i) => ({
        ...{ id: `a${i}`, kind: "arrivals", entityType: "t1", by: "list", listed: more.jobs ?? "0 s", at: [i, 50] },
      })),
      ...places.map((x, i) => ({
        ...{ id: `m${i}`, kind: "station", name: `Machine ${i}`, at: [x, 0], time: "20 s" },
        needs: [{ id: "n", anyOf: ["c"] }],
        ...more.station,
      })),
      { id: "d", kind: "departures", at: [0, 90] },
      { id: "c", kind: "crew", name: "Fitters", at: [0, 0], walks: "straight", speed: "1 m/s", ...crew },
    ],
    links: places.flatMap((_, i) => [
      { id: `in${i}`, from: `a${i}`, to: `m${i}` },
      { id: `out${i}`, from: `m${i}`, to: "d" },
    ]),
    run: { length: "200 s", ...more.run },
    more: more.more,
  });
  return more.roads
    ? { ...of, designs: [{ ...of.designs[0], roads: more.roads.map((road) => ({ ...ROAD, ...road })) as never }] }
    : of;
};

const ROAD = { name: "", kind: "walkway", from: "", to: "", oneWay: false, limit: "", width: 2 };

describe("a crew that walks, by hand", () => {
  test("goes to who asked first, or to the nearest, works there, and walks on from there", () => {
    // 30 m to the first, 20 m back to the second, 35 m to the third.
    expect(departuresOf(shop({}))).toEqual([50, 90, 145]);
    // 10 m to the second, 20 m on to the first, 55 m back to the third.
    const nearest = shop({ next: "nearest" });
    expect(departuresOf(nearest)).toEqual([30, 70, 145]);
    const values = valuesOf(nearest);
    expect(values.get("c/state.busy")).toBe(60 / 200);
    expect(values.get("c/state.walking")).toBe(85 / 200);
    expect(values.get("c/distance")).toBe(85);
    expect(values.get("c/walks")).toBe(3);
    expect(values.get("c/walk.mean")).toBeCloseTo(85 / 3, 9);
    // Waits for someone who is busy elsewhere, and for one who is on the way, are told apart.
    expect(values.get("m0/state.needing")).toBe(30 / 200);
    expect(values.get("m0/state.awaiting")).toBe(20 / 200);
    expect(values.get("m2/state.needing")).toBe(70 / 200);
    expect(values.get("m2/state.awaiting")).toBe(55 / 200);
    expect(values.get("m1/state.needing")).toBe(0);
    expect(values.get("c/wait.max")).toBe(70);
  });

  test("that has a post waits there, and is free again when it is there", () => {
    // The post is the machine at 10 m: back there at 70, and from there 20 m to the next.
    const of = shop({ idle: "post", post: "m1" }, { machines: [30, 10], jobs: "0 s", run: { length: "400 s" } });
    const [design] = of.designs;
    const elements = design.elements.map((e) =>
      e.id === "a0" ? { ...e, listed: "0 s, 120 s" } : e.id === "a1" ? { ...e, listed: "300 s" } : e,
    );
    const posted = { ...of, designs: [{ ...design, elements }] } as Study;
    expect(departuresOf(posted)).toEqual([50, 160, 320]);
    expect(valuesOf(posted).get("c/state.returning")).toBe(40 / 400);
    // One without a post is a problem.
    const lost = shop({ idle: "post" }, { machines: [30] });
    expect(compile(lost, lost.designs[0].id).problems.map(({ code, field }) => `${code} ${field}`)).toEqual([
      "missing-element post",
    ]);
  });

  test("that goes home is free again when it is there", () => {
    const one = (idle: string) => shop({ idle }, { machines: [30], jobs: "0 s, 60 s" });
    // It is done at 50 and at home at 80; from there 30 m again.
    expect(departuresOf(one("home"))).toEqual([50, 130]);
    expect(valuesOf(one("home")).get("c/state.returning")).toBe(60 / 200);
    expect(departuresOf(one("stay"))).toEqual([50, 80]);
    // The next in line asks at the instant at which the one before it is done: nobody goes home in between.
    expect(departuresOf(shop({ idle: "home" }, { machines: [30], jobs: "0 s, 1 s" }))).toEqual([50, 70]);
  });

  test("of two the nearest goes, that free longest, the least used, or the first in order", () => {
    // The first job takes the first of them to the machine; the second is still at home.
    const goes = (chosen: string) =>
      valuesOf(shop({ count: "2", chosen }, { machines: [30], jobs: "0 s, 80 s, 120 s" })).get("c/distance");
    expect(goes("fixed order")).toBe(30);
    expect(goes("nearest")).toBe(30);
    expect(goes("longest idle")).toBe(60);
    expect(goes("least used")).toBe(60);
  });

  test("several for one job are waited for until the last is there", () => {
    const of = shop(
      { count: "2" },
      { machines: [30], jobs: "0 s, 1 s", station: { needs: [{ id: "n", anyOf: ["c"], count: "2" }] } },
    );
    expect(departuresOf(of)).toEqual([50, 70]);
    expect(valuesOf(of).get("c/distance")).toBe(60);
  });

  test("over ways they go the shortest way, and no faster than it allows", () => {
    const roads = [
      {
        id: "r",
        kind: "walkway",
        points: [
          [0, 0],
          [0, 40],
          [30, 40],
        ],
        from: "c",
      },
      {
        id: "s",
        kind: "walkway",
        points: [
          [30, 40],
          [30, 0],
        ],
        to: "m0",
        limit: "0.5 m/s",
      },
    ];
    const of = shop({ walks: "over ways" }, { machines: [30], roads });
    expect(departuresOf(of)).toEqual([40 + 30 + 80 + 20]);
    const cut = shop({ walks: "over ways" }, { machines: [30], roads: roads.slice(0, 1) });
    expect(compile(cut, "d1").problems).toMatchObject([
      {
        code: "no-route",
        id: "m0",
        message: "No walkway or road comes to Machine 0, where Fitters walk.",
      },
    ]);
  });

  test("a bell on the way stops them at once, or lets them finish first", () => {
    const pattern = [
      { duration: "10 s", value: "1" },
      { duration: "60 s", value: "0" },
      { duration: "1 h", value: "1" },
    ];
    const calendars = [{ id: "k", name: "Shift", repeats: "pattern", pattern }];
    const of = (atBell: string) =>
      departuresOf(shop({ calendar: "k", atBell }, { machines: [30], jobs: "0 s, 1 s", more: { calendars } }));
    expect(of("finish, keep the timetable")).toEqual([50, 90]);
    expect(of("finish, then full break")).toEqual([50, 130]);
    // One who is on the way goes on to the machine, and begins when the pause is over.
    expect(of("pause at the bell")).toEqual([90, 110]);
  });

  test("who is given up for walks on, and is free there", () => {
    const of = shop(
      {},
      {
        machines: [30],
        jobs: "0 s",
        station: { breakdowns: [{ id: "b", every: "10 s", repair: "1 s" }], onBreakdown: "scrap" },
      },
    );
    expect(valuesOf(of).get("c/distance")).toBe(30);
  });
});

test("at no distance all numbers are the same, to the bit", () => {
  const random = (walks: string) =>
    shop(
      { walks, count: "2", order: "last asked" },
      {
        machines: [0, 0, 0],
        station: { time: "exponential(40 s)", setup: "exponential(5 s)", priority: "if(clock > 1 h, 1, 0)" },
        run: { length: "10 h" },
        jobs: Array.from({ length: 200 }, (_, i) => `${i * 97} s`).join(", "),
      },
    );
  const [walked, there] = [valuesOf(random("straight")), valuesOf(random("no"))];
  for (const [key, value] of there) expect([key, walked.get(key)]).toEqual([key, value]);
  expect(walked.get("c/distance")).toBe(0);
  expect(there.size).toBeGreaterThan(60);
});

test("whatever the crews, nobody is in two places, nobody jumps, and all that came in is somewhere", () => {
  const crew = fc.record({
    count: fc.constantFrom("1", "2", "4"),
    chosen: fc.constantFrom("fixed order", "nearest", "longest idle", "least used"),
    next: fc.constantFrom("in order", "nearest"),
    idle: fc.constantFrom("stay", "home"),
    order: fc.constantFrom("first asked", "last asked"),
    atBell: fc.constantFrom("finish, then full break", "finish, keep the timetable", "pause at the bell"),
    calendar: fc.constantFrom("", "k"),
    preempt: fc.boolean(),
    speed: fc.constantFrom("0.5 m/s", "uniform(0.8 m/s, 1.6 m/s)"),
    walks: fc.constantFrom("straight", "over ways"),
  });
  const station = fc.record({
    capacity: fc.constantFrom("1", "3"),
    onBreakdown: fc.constantFrom("pause and resume", "start over", "scrap"),
    setup: fc.constantFrom("", "exponential(5 s)"),
    teardown: fc.constantFrom("", "4 s"),
    keepResources: fc.boolean(),
    needs: fc.constantFrom(
      [{ id: "n", anyOf: ["c"] }],
      [{ id: "n", anyOf: ["e", "c"], phases: ["setup", "work"] }],
      [
        { id: "n", anyOf: ["c"], count: "1" },
        { id: "o", anyOf: ["e"], count: "1", phases: ["work", "teardown"] },
      ],
    ),
    priority: fc.constantFrom("0", "if(clock > 10 min, 1, 0)"),
    breakdowns: fc.constantFrom(
      [],
      [{ id: "b", every: "exponential(90 s)", repair: "exponential(10 s)", anyOf: ["c"] }],
    ),
  });
  const pattern = [
    { duration: "100 s", value: "all" },
    { duration: "50 s", value: "1" },
    { duration: "30 s", value: "0" },
  ];
  const calendars = [{ id: "k", name: "Shift", repeats: "pattern", pattern }];
  const machines = [30, 10, -25];
  const roads = [
    { id: "r", points: [-30, -25, 0, 5, 10, 30].map((x) => [x, 0]) },
    {
      id: "q",
      points: [
        [0, 0],
        [0, -20],
      ],
      limit: "0.4 m/s",
    },
  ];
  fc.assert(
    fc.property(
      crew,
      crew,
      station,
      fc.constantFrom("exponential(40 s)", "exponential(15 s)"),
      (first, second, of, between) => {
        const base = shop(first, {
          machines,
          roads,
          station: { ...of, time: "exponential(12 s)" },
          more: { calendars },
          run: { length: "30 min" },
        });
        const [design] = base.designs;
        const more = study({
          elements: [
            ...design.elements.map((e) => (e.kind === "arrivals" ? { ...e, by: "time between", between } : e)),
            { id: "e", kind: "crew", name: "Helpers", at: [0, -20], ...second, streams: {} },
          ] as Loose[],
          links: design.links as unknown as Loose[],
          run: { length: "30 min" },
          more: { calendars },
        });
        const program = compiled({ ...more, designs: [{ ...more.designs[0], roads: design.roads }] });
        const session = open(program, { seed: 8, replication: 1 });
        const wrong: string[] = [];
        const at = (element: number) => program.model.nodes[element].element.at;
        let last = 0;
        let seen = 0;
        let before: (readonly [number, number] | undefined)[] = [];
        for (let time = 0; time <= 1800; time += 4.1) {
          session.advanceTo(time);
          const { members, units, time: now } = session.frame();
          const places = Array.from({ length: members.count }, (_, i): readonly [number, number] => {
            if (members.motion.speed[i] === 0) return at(members.to[i]);
            seen += 1;
            const path =
              (program.model.nodes[members.element[i]].element as { walks?: string }).walks === "over ways"
                ? program.model.roads!.route(at(members.from[i]), at(members.to[i]))!.points
                : [at(members.from[i]), at(members.to[i])];
            return alongPath(path, metresAlong(members, i, now));
          });
          places.forEach(([x, y], i) => {
            const [was, were] = before[i] ?? [x, y];
            // Over ways of one line the shortest way is the way gone.
            if (Math.hypot(x - was, y - were) > 1.6 * (now - last) + 1e-6) wrong.push(`${time}: ${i} jumped`);
          });
          before = places;
          last = now;
          // Who is busy is where somebody is that has it.
          for (const unit of [...units[program.model.nodes.findIndex(({ element }) => element.id === "c")].keys()])
            if (members.doing[unit] === UNIT.idle && members.motion.speed[unit] > 0)
              wrong.push(`${time}: ${unit} idle on the way`);
        }
        session.advanceTo(1800);
        expect(session.failure).toBeUndefined();
        expect(wrong).toEqual([]);
        expect(seen).toBeGreaterThan(5);
        const values = session.values();
        const infos = measuresOf(program);
        const value = (key: string) => values[infos.findIndex((m) => m.key === key)];
        for (const id of ["c", "e", "m0", "m1", "m2"]) {
          const shares = infos.flatMap(({ key }, i) => (key.startsWith(`${id}/state.`) ? [values[i]] : []));
          expect(shares.reduce((sum, share) => sum + share, 0)).toBeCloseTo(1, 9);
        }
        expect(["a0", "a1", "a2"].reduce((sum, a) => sum + value(`${a}/created`), 0)).toBe(
          value("d/departed") + value("t1/lost") + value("t1/inSystem.end"),
        );
        // The same bits, watched or not.
        expect(run(program, { seed: 8, replication: 1 })!.values).toEqual(values);
      },
    ),
    { numRuns: 40, seed: 3 },
  );
});

/** The point so many metres along a line. */
function alongPath(points: readonly (readonly [number, number])[], metres: number): readonly [number, number] {
  let left = metres;
  for (let i = 1; i < points.length; i++) {
    const [[x, y], [u, v]] = [points[i - 1], points[i]];
    const length = Math.hypot(u - x, v - y);
    if (left <= length || i === points.length - 1)
      return length > 0 ? [x + ((u - x) * left) / length, y + ((v - y) * left) / length] : [u, v];
    left -= length;
  }
  return points[0];
}
