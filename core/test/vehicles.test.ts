import fc from "fast-check";
import {
  compile,
  measuresOf,
  metresAlong,
  type Observe,
  observationTable,
  open,
  run,
  type Study,
} from "../src/index.ts";
import { DOING } from "../src/lowering/carrying.ts";
import { valuesOf } from "./oneRun.ts";
import { study } from "./study.ts";

type Loose = Record<string, unknown>;

/** Crates come to a hatch, and are carried 200 m to a shed by vehicles that live 100 m on the other side. */
const quay = (
  vehicle: Loose,
  more: { arrivals?: Loose; links?: Loose[]; run?: Loose; elements?: Loose[]; types?: Loose[] } = {},
): Study =>
  study({
    types: more.types ?? [{ id: "t1", name: "Crate" }],
    elements: [
      {
        id: "a",
        kind: "arrivals",
        name: "Hatch",
        between: "1000 s",
        first: "0 s",
        limit: "3",
        at: [0, 0],
        ...more.arrivals,
      },
      { id: "d", kind: "departures", name: "Shed", at: [200, 0] },
      {
        id: "v",
        kind: "vehicle",
        name: "Carts",
        at: [-100, 0],
        speed: "5 m/s",
        speedLoaded: "2 m/s",
        load: "10 s",
        unload: "20 s",
        ...vehicle,
      },
      ...(more.elements ?? []),
    ],
    links: more.links ?? [{ id: "l", from: "a", to: "d", kind: "carried", by: "v" }],
    run: { length: "1 h", ...more.run },
  });

const CALENDAR = { gives: "capacity", weeks: 1, firstWeek: "", rows: [], exceptions: [], after: "repeat" };

describe("vehicles, by hand", () => {
  test("come empty from home, load, drive loaded, unload, and wait where they are", () => {
    const values = valuesOf(quay({}));
    // Home to hatch 20 s, load 10 s, 200 m at 2 m/s 100 s, unload 20 s; from the shed it comes back in 40 s.
    expect(values.get("t1/timeInSystem.max")).toBe(170);
    expect(values.get("t1/timeInSystem.mean")).toBeCloseTo((150 + 170 + 170) / 3, 9);
    expect(values.get("t1/waitingForVehicle.mean")).toBeCloseTo((20 + 40 + 40) / 3, 9);
    expect(values.get("t1/carried.mean")).toBe(130);
    expect(values.get("v/trips")).toBe(3);
    expect(values.get("v/distance")).toBe(100 + 200 + 200 + 200 + 200 + 200);
    expect(values.get("v/distanceLoaded")).toBe(600);
    expect(values.get("v/doing.loaded")).toBeCloseTo(300 / 3600, 12);
    expect(values.get("v/doing.empty")).toBeCloseTo((20 + 40 + 40) / 3600, 12);
    expect(values.get("v/doing.loading")).toBeCloseTo(30 / 3600, 12);
    expect(values.get("v/doing.unloading")).toBeCloseTo(60 / 3600, 12);
    expect(values.get("v/noneFree.mean")).toBe(0);
    expect(values.get("v/onTheWay.mean")).toBeCloseTo(100 / 3, 9);
  });

  test("that go home when idle are at home for the next", () => {
    const values = valuesOf(quay({ idle: "home" }));
    // From the shed home: 300 m, 60 s, and from there 20 s again.
    expect(values.get("t1/timeInSystem.max")).toBe(150);
    expect(values.get("v/doing.returning")).toBeCloseTo(180 / 3600, 12);
    // Whoever asks at the very instant at which one comes free has it go on, not home: the second is ready at 150.
    const busy = valuesOf(quay({ idle: "home" }, { arrivals: { between: "150 s", limit: "2" } }));
    expect(busy.get("t1/timeInSystem.max")).toBe(170);
  });

  test("serve who asked first, and the wait is told in two parts: none free, and on the way", () => {
    const values = valuesOf(quay({}, { arrivals: { between: "10 s" } }));
    // The second, asked for at 10, is answered at 150 and come for at 190; the third at 320 and 360.
    expect(values.get("v/wait.max")).toBe(340);
    expect(values.get("v/noneFree.mean")).toBeCloseTo((0 + 140 + 300) / 3, 9);
    expect(values.get("v/onTheWay.mean")).toBeCloseTo((20 + 40 + 40) / 3, 9);
    expect(values.get("v/waiting.max")).toBe(2);
  });

  test("the nearest answers, that idle longest, or the first in order", () => {
    // After the first load one is at the shed and one at home, 100 m from the hatch.
    const second = (answers: string) =>
      valuesOf(quay({ count: "2", answers }, { arrivals: { limit: "2" } })).get("v/distance");
    expect(second("nearest")).toBe(300 + 300);
    // That at home has idled from the start.
    expect(second("longest idle")).toBe(300 + 300);
    expect(second("fixed order")).toBe(300 + 400);
    // One has been on a trip, the other has not.
    expect(second("least used")).toBe(300 + 300);
  });

  test("that with the fewest trips answers, though it idled shortest", () => {
    // Carts of 1, 2 and so on take trips in turn, wherever they stand.
    const values = valuesOf(
      quay({ count: "3", answers: "least used" }, { arrivals: { limit: "6", between: "500 s" } }),
    );
    expect(values.get("v/distance")).toBe(3 * 300 + 3 * 400);
    expect(valuesOf(quay({ count: "3" }, { arrivals: { limit: "6", between: "500 s" } })).get("v/distance")).toBe(
      6 * 300 + 3 * 100,
    );
  });

  test("who is next goes by the order of the fleet; ties by who asked first", () => {
    // The first is carried till 130; four more ask at 10, 20, 30 and 40, of weights 1, 0, 1 and 4.
    const weight = { name: "weight", value: "(clock / 10 s - 2) * (clock / 10 s - 2)" };
    const cameOf = (order: Loose) => {
      const { program, problems } = compile(
        quay(order, {
          arrivals: { between: "10 s", limit: "5" },
          types: [{ id: "t1", name: "Crate", attributes: [weight] }],
        }),
        "d1",
      );
      if (!program) throw new Error(JSON.stringify(problems));
      const table = observationTable(program.model);
      const came: number[] = [];
      const observe: Observe = (departed) => {
        const [left, , , inSystem] = table.row(departed);
        came.push(Number(left) - Number(inSystem));
      };
      run(program, { seed: 3, replication: 1, observe });
      return came;
    };
    expect(cameOf({})).toEqual([0, 10, 20, 30, 40]);
    expect(cameOf({ order: "last come" })).toEqual([0, 40, 30, 20, 10]);
    expect(cameOf({ order: "smallest first", rank: "entity.weight" })).toEqual([0, 20, 10, 30, 40]);
    expect(cameOf({ order: "largest first", rank: "entity.weight" })).toEqual([0, 40, 10, 30, 20]);
  });

  test("what gives no number to compare by fails, and an attribute that one type lacks is told before", () => {
    const of = (rank: string, second: Loose[], load = "10 s") =>
      compile(
        quay(
          { order: "smallest first", rank, load },
          {
            types: [{ id: "t1", name: "Crate", attributes: [{ name: "weight", value: "0" }] }, ...second],
            arrivals: { entityType: "t1" },
            elements: second.map(({ id }) => ({ id: "b", kind: "arrivals", between: "9 s", entityType: id })),
            links: ["a", ...second.map(() => "b")].map((from) => ({
              id: `from-${from}`,
              from,
              to: "d",
              kind: "carried",
              by: "v",
            })),
          },
        ),
        "d1",
      );
    const { program } = of("entity.weight / entity.weight", []);
    expect(run(program!, { seed: 3, replication: 1 })!.failure).toMatchObject({ code: "bad-rank", id: "v" });
    expect(of("entity.weight", []).problems).toEqual([]);
    expect(of("entity.weight", [{ id: "t2", name: "Barrel" }]).problems).toContainEqual(
      expect.objectContaining({ id: "v", field: "rank", message: expect.stringContaining("Barrel") }),
    );
    expect(of("1", [{ id: "t2", name: "Barrel" }], "entity.weight * 1 s").problems).toContainEqual(
      expect.objectContaining({ id: "v", field: "load", message: expect.stringContaining("Barrel") }),
    );
  });

  test("over ways they go round, no faster than each allows, and are where that has taken them", () => {
    const of = quay({ over: "ways" });
    const road = (points: [number, number][], more: Loose = {}) => ({
      ...{ id: `r${points.join()}`, name: "", kind: "road", from: "", to: "", oneWay: false, limit: "", width: 6 },
      points,
      ...more,
    });
    const roads = [
      road([
        [-100, 0],
        [0, 0],
      ]),
      road(
        [
          [0, 0],
          [0, 50],
          [200, 50],
        ],
        { limit: "1 m/s" },
      ),
      road([
        [200, 50],
        [200, 0],
      ]),
    ];
    const drawn: Study = { ...of, designs: [{ ...of.designs[0], roads: roads as never }] };
    const values = valuesOf(drawn);
    // Loaded: 250 m at 1 m/s, 50 m at 2 m/s; empty back 10 s and 250 s.
    expect(values.get("t1/carried.mean")).toBe(10 + 275 + 20);
    expect(values.get("t1/waitingForVehicle.mean")).toBeCloseTo((20 + 260 + 260) / 3, 9);
    const { program } = compile(drawn, "d1");
    const session = open(program!, { seed: 1, replication: 1 });
    session.advanceTo(130);
    const { carriers } = session.frame();
    expect([...carriers.doing]).toEqual([3]);
    // On the road with the limit since 30: 100 m of it.
    expect(carriers.motion.from[0] + (130 - carriers.since[0]) * carriers.motion.speed[0]).toBeCloseTo(100, 9);
    expect(carriers.load[0]).toBe(0);
    const cut = { ...drawn, designs: [{ ...drawn.designs[0], roads: roads.slice(1) as never }] };
    expect(compile(cut, "d1").problems).toMatchObject([
      { code: "no-route", id: "l", field: "by", message: "No walkway or road comes to Carts." },
    ]);
  });

  test("take along who waits to go the same way, as far as they fit, in their order", () => {
    const weight = { name: "weight", value: "if(Hatch.created = 1, 6, if(Hatch.created = 2, 5, 4))" };
    const types = [{ id: "t1", name: "Crate", attributes: [weight] }];
    const at = (vehicle: Loose, more: Parameters<typeof quay>[1] = {}) => {
      const { program, problems } = compile(
        quay(vehicle, { types, arrivals: { by: "list", listed: "0 s, 1 s, 2 s" }, ...more }),
        "d1",
      );
      if (!program) throw new Error(JSON.stringify(problems));
      const table = observationTable(program.model);
      const left: number[] = [];
      const result = run(program, {
        seed: 3,
        replication: 1,
        observe: (departed) => void left.push(Number(table.row(departed)[0])),
      })!;
      return { left, failure: result.failure };
    };
    // Two at a time: at 20, 10 s to load each, 100 s, 20 s to unload each; then back in 40 s for the third.
    expect(at({ limit: "2" }).left).toEqual([180, 180, 180 + 40 + 10 + 100 + 20]);
    expect(at({ limit: "5" }).left).toEqual([20 + 30 + 100 + 60, 210, 210]);
    // Of ten, six and four fit together; the five before it is left, and goes alone.
    expect(at({ limit: "10", takes: "entity.weight" }).left).toEqual([180, 180, 350]);
    // Who wants to go elsewhere is not taken along.
    const both = {
      elements: [{ id: "d2", kind: "departures", name: "Barn", at: [200, 0] }],
      links: [
        { id: "l", from: "a", to: "d", kind: "carried", by: "v", condition: "entity.weight < 5 or entity.weight > 5" },
        { id: "m", from: "a", to: "d2", kind: "carried", by: "v" },
      ],
      arrivals: { by: "list", listed: "0 s, 1 s, 2 s", wayOut: "condition" },
    };
    expect(at({ limit: "3" }, both).left).toEqual([180, 180, 350]);
    const values = valuesOf(quay({ limit: "2" }, { types, arrivals: { by: "list", listed: "0 s, 1 s, 2 s" } }));
    expect([values.get("v/trips"), values.get("v/brought")]).toEqual([2, 3]);
    expect(values.get("v/noneFree.mean")).toBeCloseTo((0 + 19 + 178) / 3, 9);
    expect(values.get("v/onTheWay.mean")).toBeCloseTo((20 + 0 + 40) / 3, 9);
    expect(values.get("t1/carried.mean")).toBeCloseTo((160 + 160 + 130) / 3, 9);
    expect(at({ limit: "5", takes: "entity.weight" }).failure).toMatchObject({
      code: "over-limit",
      id: "v",
      field: "takes",
      message: 'Carts: "Each takes" gave 6, and one carries from 0 to 5.',
    });
  });

  test("off shift no trip begins, and one under way is ended first; then they are at home or where they are", () => {
    const pattern = [
      { duration: "30 s", value: "all" },
      { duration: "300 s", value: "0" },
      { duration: "6870 s", value: "all" },
    ];
    const calendars = [{ id: "k", name: "Shift", repeats: "pattern", pattern, fills: "2 h" }];
    const of = (idle: string): Study => {
      const yard = quay({ calendar: "k", idle }, { arrivals: { by: "list", listed: "0 s, 5 s" } });
      return { ...yard, calendars: calendars.map((c) => ({ ...CALENDAR, ...c })) as never };
    };
    // The second is answered at 330, from the shed in 40 s, or from home in 20 s.
    expect(valuesOf(of("stay")).get("t1/timeInSystem.max")).toBe(330 + 40 + 10 + 100 + 20 - 5);
    expect(valuesOf(of("home")).get("t1/timeInSystem.max")).toBe(330 + 20 + 10 + 100 + 20 - 5);
    const values = valuesOf(of("stay"));
    expect(values.get("v/doing.offShift")).toBeCloseTo(180 / 3600, 12);
    expect(DOING.reduce((sum, part) => sum + (values.get(`v/doing.${part}`) ?? 0), 0)).toBeCloseTo(1, 12);
  });

  test("one that breaks down stands where it is with its load, and goes on when it is repaired", () => {
    const of = quay(
      { every: "50 s", repair: "30 s", unload: "15 s" },
      { arrivals: { limit: "1" }, run: { length: "205 s" } },
    );
    const session = open(compile(of, "d1").program!, { seed: 3, replication: 1 });
    // At the hatch at 20, loaded at 30; down from 50 to 80 and from 130 to 160, at the shed at 190.
    session.advanceTo(60);
    const { carriers } = session.frame();
    expect([DOING[carriers.doing[0]], carriers.motion.from[0], carriers.motion.speed[0]]).toEqual(["down", 40, 0]);
    expect(carriers.load[0]).toBe(0);
    session.advanceTo(100);
    const { carriers: later } = session.frame();
    expect(metresAlong(later, 0, 100)).toBe(40 + 20 * 2);
    const values = valuesOf(of);
    expect(values.get("t1/timeInSystem.max")).toBe(205);
    expect(values.get("v/doing.down")).toBeCloseTo(60 / 205, 12);
    expect(values.get("v/doing.loaded")).toBeCloseTo(100 / 205, 12);
    expect(values.get("v/breakdowns")).toBe(2);
    expect(values.get("v/distance")).toBe(300);
    // Idle ones are not there while they are down.
    const idle = quay({ every: "500 s", repair: "400 s" }, { arrivals: { by: "list", listed: "0 s, 600 s" } });
    expect(valuesOf(idle).get("t1/timeInSystem.max")).toBe(900 + 40 + 10 + 100 + 20 - 600);
  });

  test("a link that nothing carries along is told", () => {
    const none = compile(quay({}, { links: [{ id: "l", from: "a", to: "d", kind: "carried" }] }), "d1");
    expect(none.problems).toMatchObject([{ code: "no-vehicle", id: "l", field: "by" }]);
  });
});

test("under heavy load a fleet brings as many as its cycles allow", () => {
  // A cycle is 10 s, 100 s, 20 s and 40 s back; more wait than can be brought.
  const values = valuesOf(quay({ count: "3" }, { arrivals: { between: "5 s", limit: "" }, run: { length: "20 h" } }));
  expect(values.get("v/trips")! / ((3 * 72_000) / 170)).toBeCloseTo(1, 2);
  expect(values.get("v/doing.idle")).toBeLessThan(0.001);
});

test("parts of time make up all of it, and shares of what they do are 1, in every replication", () => {
  const of = quay(
    {
      count: "2",
      load: "exponential(10 s)",
      unload: "exponential(20 s)",
      speed: "uniform(3 m/s, 6 m/s)",
      idle: "home",
    },
    { arrivals: { between: "exponential(120 s)", limit: "" }, run: { length: "20 h", warmUp: "1 h" } },
  );
  const { program } = compile(of, "d1");
  const infos = measuresOf(program!);
  for (let replication = 1; replication <= 5; replication++) {
    const { values } = run(program!, { seed: 9, replication })!;
    const value = (key: string) => values[infos.findIndex((m) => m.key === key)];
    const parts = ["waiting", "worked", "moving", "dwelling", "blocked", "waitingForVehicle", "carried"];
    expect(parts.reduce((sum, part) => sum + value(`t1/${part}.mean`), 0)).toBeCloseTo(
      value("t1/timeInSystem.mean"),
      6,
    );
    const doing = ["idle", "empty", "loading", "loaded", "unloading", "returning"];
    expect(doing.reduce((sum, part) => sum + value(`v/doing.${part}`), 0)).toBeCloseTo(1, 9);
    expect(value("v/noneFree.mean") + value("v/onTheWay.mean")).toBeCloseTo(value("v/wait.mean"), 6);
  }
  // The same bits whether it ran before or not.
  expect(run(program!, { seed: 9, replication: 2 })).toEqual(
    run(compile(of, "d1").program!, { seed: 9, replication: 2 }),
  );
});

test("whatever the fleet, nothing is in two places or nowhere, at any instant", () => {
  const seconds = fc.constantFrom("0 s", "7 s", "exponential(20 s)");
  fc.assert(
    fc.property(
      fc.record({
        count: fc.integer({ min: 1, max: 4 }).map(String),
        answers: fc.constantFrom("nearest", "longest idle", "fixed order"),
        idle: fc.constantFrom("stay", "home"),
        load: seconds,
        unload: seconds,
        speed: fc.constantFrom("5 m/s", "uniform(1 m/s, 9 m/s)"),
        limit: fc.constantFrom("1", "3", "2.5"),
        every: fc.constantFrom("", "exponential(200 s)"),
        repair: fc.constantFrom("20 s", "exponential(100 s)"),
      }),
      fc.constantFrom("exponential(30 s)", "40 s"),
      fc.constantFrom("no limit", "1"),
      (vehicle, between, room) => {
        const of = quay(vehicle, {
          arrivals: { between, limit: "" },
          elements: [
            { id: "s", kind: "station", time: "exponential(15 s)", room, at: [100, 80] },
            { id: "b", kind: "arrivals", between: "50 s", at: [-50, 80] },
          ],
          links: [
            { id: "l", from: "a", to: "s", kind: "carried", by: "v" },
            { id: "m", from: "s", to: "d", kind: "carried", by: "v" },
            { id: "n", from: "b", to: "d", kind: "carried", by: "v" },
          ],
        });
        const { program, problems } = compile(of, "d1");
        if (!program) throw new Error(JSON.stringify(problems));
        const session = open(program, { seed: 2, replication: 1 });
        for (let time = 0; time <= 3600; time += 97) {
          session.advanceTo(time);
          const { carriers, serial } = session.frame();
          const values = new Map(session.measures.map((m, i) => [m.key, session.values()[i]]));
          // Each vehicle is somewhere once, and so is what it carries: on it, and nowhere else.
          expect(carriers.count).toBe(Number(vehicle.count));
          const others = Object.values(carriers.others).flatMap((of) => of.map(([, number]) => number));
          const loads = [...carriers.serial].filter((of) => of > 0);
          const most = Math.floor(Number(vehicle.limit)) - 1;
          expect(Object.values(carriers.others).every((of) => of.length <= most)).toBe(true);
          const all = [...serial, ...loads, ...others];
          expect(new Set(all).size).toBe(all.length);
          expect(all).toHaveLength(values.get("t1/inSystem.end")!);
          // What is down may have a load or none.
          const carrying = [...carriers.doing].filter((d) => d >= 2 && d <= 4).length;
          expect(loads.length).toBeGreaterThanOrEqual(carrying);
          expect(loads.length).toBeLessThanOrEqual(
            carrying + [...carriers.doing].filter((d) => DOING[d] === "down").length,
          );
          expect(values.get("t1/created")).toBe(values.get("t1/departed")! + values.get("t1/inSystem.end")!);
        }
      },
    ),
    { numRuns: 25 },
  );
});
