import fc from "fast-check";
import {
  compile,
  type Frame,
  measuresOf,
  metresAlong,
  open,
  polylineLength,
  type Program,
  run,
  type Study,
} from "../src/index.ts";
import { rounded } from "../src/movement/rounded.ts";
import { compiled, valuesOf } from "./oneRun.ts";
import { study } from "./study.ts";

type Loose = Record<string, unknown>;

/**
 * A pier of 100 m between West and East, along which walkers go: `walkers` says from where, when and how fast each sets
 * out, one of its type each.
 */
const pier = (
  road: Loose,
  walkers: readonly (readonly [from: "west" | "east", first: string, speed: string])[],
  {
    roads = [
      {
        id: "w",
        name: "Pier",
        points: [
          [0, 0],
          [100, 0],
        ],
        ...road,
      },
    ],
    more = {},
  }: { roads?: Loose[]; more?: Loose } = {},
): Study =>
  study({
    types: walkers.map(([, , speed], i) => ({ id: `t${i}`, name: `Walker ${"ABCDEF"[i]}`, speed })),
    elements: [
      { id: "toEast", kind: "departures", name: "EastOut", at: [100, 0] },
      ...(walkers.some(([from]) => from === "east")
        ? [{ id: "toWest", kind: "departures", name: "WestOut", at: [0, 0] }]
        : []),
      ...walkers.map(([from, first], i) => ({
        id: `a${i}`,
        kind: "arrivals",
        name: `Gate${"ABCDEF"[i]}`,
        between: "10 h",
        first,
        limit: "1",
        entityType: `t${i}`,
        at: [from === "west" ? 0 : 100, 0],
      })),
    ],
    links: walkers.map(([from], i) => ({
      id: `l${i}`,
      from: `a${i}`,
      to: from === "west" ? "toEast" : "toWest",
      kind: "ways",
    })),
    run: { length: "1000 s" },
    design: { roads },
    more,
  });

const inSystem = (values: ReadonlyMap<string, number>, count: number): number[] =>
  Array.from({ length: count }, (_, i) => values.get(`t${i}/timeInSystem.max`)!);

describe("room on ways, by hand", () => {
  test("one who comes against another on a way with room for one waits until it is free", () => {
    const values = valuesOf(
      pier({ room: "1" }, [
        ["west", "0 s", "1 m/s"],
        ["east", "10 s", "2 m/s"],
      ]),
    );
    expect(inSystem(values, 2)).toEqual([100, 90 + 50]);
    // Of the time of the second 90 s are waiting and 50 s moving.
    expect(values.get("t1/blocked.mean")).toBe(90);
    expect(values.get("t1/moving.mean")).toBe(50);
    expect(values.get("w/passed")).toBe(2);
    expect(values.get("w/on.max")).toBe(1);
    expect(values.get("w/on.mean")).toBeCloseTo(150 / 1000, 12);
    expect(values.get("w/waiting.mean")).toBeCloseTo(90 / 1000, 12);
    expect(values.get("w/wait.mean")).toBe(45);
    expect(values.get("w/wait.max")).toBe(90);
  });

  test("two vehicles that meet: the second stands where the way begins, and that is a state of its own", () => {
    const at = { between: "10 h", first: "0 s", limit: "1" };
    const values = valuesOf(
      study({
        types: [{ id: "t1", name: "Crate" }],
        elements: [
          { id: "a", kind: "arrivals", name: "West", at: [0, 0], ...at },
          { id: "b", kind: "arrivals", name: "East", at: [100, 0], ...at },
          { id: "c", kind: "departures", name: "WestOut", at: [0, 0] },
          { id: "d", kind: "departures", name: "EastOut", at: [100, 0] },
          ...["a", "b"].map((home) => ({
            id: `v${home}`,
            kind: "vehicle",
            name: `Carts ${home}`,
            at: [home === "a" ? 0 : 100, 0],
            over: "ways",
            speed: "5 m/s",
            speedLoaded: "2 m/s",
          })),
        ],
        links: [
          { id: "l1", from: "a", to: "d", kind: "carried", by: "va" },
          { id: "l2", from: "b", to: "c", kind: "carried", by: "vb" },
        ],
        design: {
          roads: [
            {
              id: "w",
              points: [
                [0, 0],
                [100, 0],
              ],
              room: "1",
            },
          ],
        },
        run: { length: "1000 s" },
      }),
    );
    expect(values.get("t1/timeInSystem.max")).toBe(100);
    expect(values.get("t1/timeInSystem.mean")).toBe(75);
    expect(values.get("va/doing.heldUp")).toBe(0);
    expect(values.get("vb/doing.heldUp")).toBeCloseTo(50 / 1000, 12);
    expect(values.get("vb/doing.loaded")).toBeCloseTo(50 / 1000, 12);
    expect(values.get("vb/distance")).toBe(100);
  });

  test("one direction at a time: several may follow one another, and who came first goes first", () => {
    const values = valuesOf(
      pier({ oneAtATime: true }, [
        ["west", "0 s", "1 m/s"],
        ["west", "10 s", "1 m/s"],
        ["east", "20 s", "1 m/s"],
        // Comes after one who waits to go the other way, and so goes after it.
        ["west", "30 s", "1 m/s"],
      ]),
    );
    expect(inSystem(values, 4)).toEqual([100, 100, 190, 280]);
    expect(values.get("w/on.max")).toBe(2);
  });

  test("nobody passes another: a faster one comes in with the slower, one behind the other", () => {
    const walkers = [
      ["west", "0 s", "1 m/s"],
      ["west", "10 s", "5 m/s"],
      ["west", "60 s", "2 m/s"],
      // Against them there is nobody ahead.
      ["east", "10 s", "5 m/s"],
    ] as const;
    expect(inSystem(valuesOf(pier({ follow: true }, walkers)), 4)).toEqual([100, 20, 50, 20]);
    const values = valuesOf(pier({ keepsOrder: true }, walkers));
    expect(inSystem(values, 4)).toEqual([100, 90, 50, 20]);
    expect(values.get("w/behind.mean")).toBeCloseTo(70 / 1000, 12);
    expect(values.get("t1/blocked.mean")).toBe(70);
  });

  test("who waits for room stands on the way before, and takes room there", () => {
    // Two ways of 50 m in a row, the second with room for one, the first for two.
    const roads = [
      {
        id: "w1",
        points: [
          [0, 0],
          [50, 0],
        ],
        room: "2",
      },
      {
        id: "w2",
        points: [
          [50, 0],
          [100, 0],
        ],
        room: "1",
      },
    ];
    const walkers = ["0 s", "10 s", "20 s"].map((first) => ["west", first, "1 m/s"] as const);
    const values = valuesOf(pier({}, walkers, { roads }));
    // The second waits from 60 to 100 in front of the second way; the third comes onto the first way at 50.
    expect(inSystem(values, 3)).toEqual([100, 140, 180]);
    expect(values.get("w1/wait.max")).toBe(30);
    expect(values.get("w2/wait.max")).toBe(50);
    const session = open(compiled(pier({}, walkers, { roads })), { seed: 3, replication: 1 });
    session.advanceTo(70);
    const frame = session.frame();
    const held = [...frame.serial].indexOf(2);
    expect(metresAlong(frame, held, 70)).toBe(50);
  });

  test("a way is closed by a calendar or a condition: who is on it goes on", () => {
    const hours = {
      id: "c",
      name: "Gate hours",
      gives: "capacity",
      repeats: "pattern",
      fills: "90 s",
      pattern: [
        { duration: "30 s", value: "1" },
        { duration: "60 s", value: "0" },
      ],
    };
    const walkers = ["0 s", "40 s", "100 s"].map((first) => ["west", first, "1 m/s"] as const);
    const byHours = valuesOf(pier({ calendar: "c" }, walkers, { more: { calendars: [hours] } }));
    expect(inSystem(byHours, 3)).toEqual([100, 150, 100]);
    // Closed from 30 to 90, from 120 to 180 and so on, eleven times within 1000 s, the last from 930 to 990.
    expect(byHours.get("w/closed")).toBeCloseTo((11 * 60) / 1000, 12);
    // From the end of the instant at which the second has set out until it has gone.
    const closedWhile = "GateB.created > 0 and EastOut.departed < 2";
    const byCondition = valuesOf(pier({ closedWhile }, walkers));
    expect(inSystem(byCondition, 3)).toEqual([100, 100, 140]);
    expect(byCondition.get("w/closed")).toBeCloseTo(100 / 1000, 12);
  });

  test("those who wait for one another round a ring are a jam, named with the ways and those in it", () => {
    const roads = [
      {
        id: "w1",
        name: "West arm",
        points: [
          [0, 0],
          [50, 0],
        ],
        room: "1",
      },
      {
        id: "w2",
        name: "East arm",
        points: [
          [50, 0],
          [100, 0],
        ],
        room: "1",
      },
    ];
    const { program } = compile(
      pier(
        {},
        [
          ["west", "0 s", "1 m/s"],
          ["east", "10 s", "1 m/s"],
        ],
        { roads },
      ),
      "d1",
    );
    const session = open(program!, { seed: 3, replication: 1 });
    session.advanceTo(1000);
    const { failure } = session;
    expect(failure?.code).toBe("jam");
    expect(failure?.time).toBe(60);
    expect(failure?.message).toContain("East arm, West arm");
    expect(failure?.message).toContain("Walker A 1");
    expect(failure?.message).toContain("Walker B 2");
    // With room for two on one of them both get by.
    const wider = [roads[0], { ...roads[1], room: "2" }];
    expect(
      inSystem(
        valuesOf(
          pier(
            {},
            [
              ["west", "0 s", "1 m/s"],
              ["east", "10 s", "1 m/s"],
            ],
            { roads: wider },
          ),
        ),
        2,
      ),
    ).toEqual([100, 100]);
  });
});

describe("which way is taken", () => {
  const roads = [
    {
      id: "w1",
      points: [
        [0, 0],
        [100, 0],
      ],
      limit: "1 m/s",
    },
    {
      id: "w2",
      points: [
        [0, 0],
        [50, 50],
        [100, 0],
      ],
    },
  ];
  const detour = 2 * Math.sqrt(50 ** 2 + 50 ** 2);

  test("a way counts by its factor when the shortest is looked for, and is as long as it is", () => {
    const walker = [["west", "0 s", "2 m/s"]] as const;
    expect(inSystem(valuesOf(pier({}, walker, { roads })), 1)).toEqual([100]);
    const counted = [{ ...roads[0], factor: "1.5" }, roads[1]];
    expect(inSystem(valuesOf(pier({}, walker, { roads: counted })), 1)[0]).toBeCloseTo(detour / 2, 9);
  });

  test("vehicles take the shortest or the quickest", () => {
    const timeBy = (way: string) =>
      valuesOf(
        study({
          types: [{ id: "t1", name: "Crate" }],
          elements: [
            { id: "a", kind: "arrivals", at: [0, 0], first: "0 s", between: "10 h", limit: "1" },
            { id: "d", kind: "departures", at: [100, 0] },
            { id: "v", kind: "vehicle", at: [0, 0], over: "ways", way, speedLoaded: "5 m/s" },
          ],
          links: [{ id: "l", from: "a", to: "d", kind: "carried", by: "v" }],
          design: { roads },
          run: { length: "1 h" },
        }),
      ).get("t1/carried.mean");
    expect(timeBy("shortest")).toBe(100);
    expect(timeBy("quickest")).toBeCloseTo(detour / 5, 9);
  });

  test("links take the shortest, or the quickest at a speed, and crews at theirs", () => {
    const walked = (link: Loose, crew: Loose) =>
      valuesOf(
        study({
          types: [{ id: "t1", name: "Clerk", speed: "5 m/s" }],
          elements: [
            { id: "a", kind: "arrivals", at: [0, 0], first: "0 s", between: "10 h", limit: "1" },
            { id: "s", kind: "station", at: [100, 0], time: "0 s", needs: [{ id: "n", anyOf: ["c"] }] },
            { id: "d", kind: "departures", at: [100, 50] },
            { id: "c", kind: "crew", at: [0, 0], walks: "over ways", speed: "5 m/s", ...crew },
          ],
          links: [
            { id: "l", from: "a", to: "s", kind: "ways", ...link },
            { id: "m", from: "s", to: "d" },
          ],
          design: { roads },
          run: { length: "1 h" },
        }),
      );
    expect(walked({}, {}).get("t1/moving.mean")).toBe(100);
    expect(walked({ quickestAt: "5 m/s" }, {}).get("t1/moving.mean")).toBeCloseTo(detour / 5, 9);
    // So slow that no limit counts, the shortest is the quickest.
    expect(walked({ quickestAt: "0.1 m/s" }, {}).get("t1/moving.mean")).toBe(100);
    expect(walked({}, {}).get("c/distance")).toBe(100);
    expect(walked({}, { way: "quickest" }).get("c/distance")).toBeCloseTo(detour, 9);
  });
});

describe("gathering speed, by hand", () => {
  const trip = (vehicle: Loose, points: [number, number][], limits: string[] = []) =>
    valuesOf(
      study({
        types: [{ id: "t1", name: "Crate" }],
        elements: [
          { id: "a", kind: "arrivals", at: points[0], first: "0 s", between: "10 h", limit: "1" },
          { id: "d", kind: "departures", at: points.at(-1) },
          { id: "v", kind: "vehicle", at: points[0], over: "ways", speedLoaded: "10 m/s", ...vehicle },
        ],
        links: [{ id: "l", from: "a", to: "d", kind: "carried", by: "v" }],
        design: {
          roads: points
            .slice(1)
            .map((point, i) => ({ id: `w${i}`, points: [points[i], point], limit: limits[i] ?? "" })),
        },
        run: { length: "1 h" },
      }),
    ).get("t1/carried.mean")!;

  test("a short leg never reaches full speed; a long one loses the time of both ends", () => {
    const straight = (metres: number): [number, number][] => [
      [0, 0],
      [metres, 0],
    ];
    // Half the way up, half down: 2 √(s / a).
    expect(trip({ acceleration: "0.5 m/s^2" }, straight(50))).toBeCloseTo(2 * Math.sqrt(50 / 0.5), 9);
    // s / v + v / a.
    expect(trip({ acceleration: "0.5 m/s^2" }, straight(1000))).toBeCloseTo(1000 / 10 + 10 / 0.5, 9);
    expect(trip({}, straight(1000))).toBe(100);
  });

  test("it slows down in time for a limit ahead", () => {
    // 300 m free: up to 10 m/s in 100 m, level 116 m, down to 4 m/s in 84 m; then 200 m at 4, the last 16 m to rest.
    const seconds = 20 + 116 / 10 + 6 / 0.5 + 184 / 4 + 4 / 0.5;
    expect(
      trip(
        { acceleration: "0.5 m/s^2" },
        [
          [0, 0],
          [300, 0],
          [500, 0],
        ],
        ["", "4 m/s"],
      ),
    ).toBeCloseTo(seconds, 9);
  });

  test("and where the way turns", () => {
    const corner: [number, number][] = [
      [0, 0],
      [300, 0],
      [300, 200],
    ];
    // 300 m: 20 s up, 108 m level, then down to 2 m/s in 96 m; 200 m: up from 2 in 96 m, 4 m level, 100 m down.
    const seconds = 20 + 104 / 10 + 8 / 0.5 + 8 / 0.5 + 4 / 10 + 20;
    expect(trip({ acceleration: "0.5 m/s^2", turning: "2 m/s" }, corner)).toBeCloseTo(seconds, 9);
    // A bend of less than 30 degrees is no turn.
    const slight: [number, number][] = [
      [0, 0],
      [300, 0],
      [500, 50],
    ];
    expect(trip({ acceleration: "0.5 m/s^2", turning: "2 m/s" }, slight)).toBeCloseTo(
      trip({ acceleration: "0.5 m/s^2" }, slight),
      9,
    );
  });
});

/** Where along a road that runs straight to the right those of a frame are that are on their way, in metres. */
function placesOf(frame: Frame, { model }: Program): number[] {
  const of = (from: number, to: number, metres: number) => {
    const [a, b] = [model.nodes[from].element.at[0], model.nodes[to].element.at[0]];
    return a + Math.sign(b - a) * metres;
  };
  const entities = [...frame.place].flatMap((place, i) => {
    const way = model.ways[place - model.nodes.length];
    return way?.link.kind === "ways" ? [of(way.from, way.to, metresAlong(frame, i, frame.time))] : [];
  });
  const others = [frame.carriers, frame.members].flatMap((list) =>
    [...list.from].flatMap((from, i) =>
      from === list.to[i] ? [] : [of(from, list.to[i], metresAlong(list, i, frame.time))],
    ),
  );
  return [...entities, ...others];
}

test("whatever goes over ways: no more are on one than fit, nobody passes, and all come through, or a jam is told", () => {
  const way = fc.record({
    room: fc.constantFrom("", "1", "2", "3"),
    roomEach: fc.boolean(),
    every: fc.constantFrom("", "", "exponential(200 s)"),
    repair: fc.constant("exponential(10 s)"),
    oneAtATime: fc.boolean(),
    keepsOrder: fc.boolean(),
    limit: fc.constantFrom("", "", "2 m/s"),
  });
  const fleet = fc.record({
    count: fc.constantFrom("1", "2", "3"),
    idle: fc.constantFrom("stay", "home"),
    acceleration: fc.constantFrom("", "0.5 m/s^2"),
    every: fc.constantFrom("", "exponential(80 s)"),
    repair: fc.constant("exponential(20 s)"),
  });
  let jams = 0;
  let through = 0;
  fc.assert(
    fc.property(
      fc.array(way, { minLength: 3, maxLength: 3 }),
      fleet,
      fc.integer({ min: 1, max: 999 }),
      (ways, of, seed) => {
        const ends = [0, 40, 75, 120];
        const gate = { kind: "arrivals", between: "exponential(45 s)", limit: "20" };
        const program = compiled(
          study({
            types: [{ id: "t1", name: "Walker", speed: "triangular(0.8 m/s, 1.2 m/s, 2 m/s)" }],
            elements: [
              { id: "a", at: [0, 0], ...gate },
              { id: "b", at: [120, 0], ...gate },
              { id: "c", at: [40, 0], ...gate },
              { id: "east", kind: "departures", at: [120, 0] },
              { id: "west", kind: "departures", at: [0, 0] },
              { id: "v", kind: "vehicle", at: [75, 0], over: "ways", speed: "3 m/s", speedLoaded: "2 m/s", ...of },
              { id: "s", kind: "station", at: [75, 0], time: "exponential(5 s)", needs: [{ id: "n", anyOf: ["e"] }] },
              { id: "e", kind: "crew", at: [0, 0], count: "2", walks: "over ways", idle: "home" },
            ],
            links: [
              { id: "l1", from: "a", to: "s", kind: "ways" },
              { id: "l2", from: "b", to: "west", kind: "ways" },
              { id: "l3", from: "c", to: "east", kind: "carried", by: "v" },
              { id: "l4", from: "s", to: "east", kind: "ways" },
            ],
            design: {
              roads: ways.map((road, i) => ({
                id: `w${i}`,
                points: [
                  [ends[i], 0],
                  [ends[i + 1], 0],
                ],
                ...road,
              })),
            },
            run: { length: "8 h" },
          }),
        );
        const session = open(program, { seed, replication: 1 });
        const wrong: string[] = [];
        for (let time = 0; time <= 2400; time += 3.7) {
          session.advanceTo(time);
          const places = placesOf(session.frame(), program);
          ways.forEach(({ room, roomEach, oneAtATime }, i) => {
            const on = places.filter((x) => x > ends[i] + 1e-6 && x < ends[i + 1] - 1e-6).length;
            const most = Number(room) * (roomEach && !oneAtATime ? 2 : 1);
            if (room !== "" && on > most) wrong.push(`${time}: ${on} on way ${i} with room for ${room}`);
          });
        }
        expect(wrong).toEqual([]);
        session.advanceTo(8 * 3600);
        const { failure } = session;
        if (failure) {
          jams += 1;
          expect(failure.code).toBe("jam");
          return;
        }
        through += 1;
        const values = session.values();
        const value = (key: string) => values[measuresOf(program).findIndex((m) => m.key === key)];
        expect(value("t1/departed")).toBe(60);
        expect(run(program, { seed, replication: 1 })!.values).toEqual(values);
      },
    ),
    { numRuns: 80, seed: 16 },
  );
  expect(jams).toBeGreaterThan(3);
  expect(through).toBeGreaterThan(10);
});

describe("lanes of their own, breakdowns and curves, by hand", () => {
  test("room of each direction apart: those who meet pass, those who follow wait", () => {
    const walkers = [
      ["west", "0 s", "1 m/s"],
      ["east", "10 s", "1 m/s"],
      ["west", "20 s", "1 m/s"],
    ] as const;
    // One for both: the second waits till 100, the third till 200.
    expect(inSystem(valuesOf(pier({ room: "1" }, walkers)), 3)).toEqual([100, 190, 280]);
    // One each: the second meets the first, the third waits for it alone.
    expect(inSystem(valuesOf(pier({ room: "1", roomEach: true }, walkers)), 3)).toEqual([100, 100, 180]);
  });

  test("a way that breaks down lets nobody on until it is repaired, and who is on it go on", () => {
    const walkers = [
      ["west", "0 s", "1 m/s"],
      ["west", "60 s", "1 m/s"],
    ] as const;
    const values = valuesOf(pier({ every: "50 s", repair: "30 s" }, walkers));
    // Closed from 50 to 80, from 130 to 160, and so on.
    expect(inSystem(values, 2)).toEqual([100, 120]);
    expect(values.get("w/breakdowns")).toBe(12);
    expect(values.get("w/closed")).toBeCloseTo((12 * 30) / 1000, 9);
    // Without a time to repair it says nothing of it.
    const study = pier({ every: "50 s" }, walkers);
    expect(compile(study, study.designs[0].id).problems.map(({ code, field }) => `${code} ${field}`)).toEqual([
      "empty-setting repair",
    ]);
  });

  test("what is drawn is from a stream of its own, the same in every replication of a seed", () => {
    const study = pier({ every: "exponential(50 s)", repair: "exponential(10 s)" }, [["west", "0 s", "1 m/s"]]);
    const streams = study.designs[0].roads![0].streams!;
    expect(Object.keys(streams).sort()).toEqual(["every", "repair"]);
    expect(new Set(Object.values(streams)).size).toBe(2);
    const closed = (seed: number) => {
      const program = compiled(study);
      const { values } = run(program, { seed, replication: 1 })!;
      return values[measuresOf(program).findIndex(({ key }) => key === "w/closed")];
    };
    expect(closed(1)).toBe(closed(1));
    expect(closed(1)).not.toBe(closed(2));
  });

  const corner: [number, number][] = [
    [0, 0],
    [50, 0],
    [50, 50],
  ];

  test("a curve is as long as its arc", () => {
    const metres = polylineLength(rounded(corner, 20, []));
    // Two straights of 30 m and a quarter of a circle of 20 m.
    expect(metres).toBeLessThan(60 + 10 * Math.PI);
    expect(metres).toBeCloseTo(60 + 10 * Math.PI, 1);
    // A side that is too short has a smaller curve: no more than half of it is cut.
    expect(polylineLength(rounded(corner, 1000, []))).toBeCloseTo(50 + (Math.PI * 25) / 2, 1);
    for (const [x, y] of rounded(corner, 20, []).slice(1, -1)) expect(Math.hypot(x - 30, y - 20)).toBeCloseTo(20, 9);
    // What is straight, or turns back, stays as it is.
    expect(
      rounded(
        [
          [0, 0],
          [10, 0],
          [20, 0],
        ],
        5,
        [],
      ),
    ).toEqual([
      [0, 0],
      [10, 0],
      [20, 0],
    ]);
    expect(
      rounded(
        [
          [0, 0],
          [10, 0],
          [0, 0],
        ],
        5,
        [],
      ),
    ).toEqual([
      [0, 0],
      [10, 0],
      [0, 0],
    ]);
  });

  test("nothing that joins is cut off", () => {
    expect(rounded(corner, 20, [[50, 0]])).toEqual(corner);
    // Something joins 10 m before the corner: the curve begins there at the earliest.
    const line = rounded(corner, 20, [[40, 0]]);
    expect(line[1]).toEqual([40, 0]);
    expect(polylineLength(line)).toBeCloseTo(80 + 5 * Math.PI, 1);
    // Beside the way, or farther from it, it is in nobody's way.
    expect(
      rounded(corner, 20, [
        [40, 3],
        [10, 0],
      ])[1],
    ).toEqual([30, 0]);
  });

  test("one walks along it, and slows down in no turn", () => {
    const bent = {
      roads: [
        {
          id: "w",
          name: "Pier",
          radius: "30 m",
          points: [
            [0, 0],
            [50, 0],
            [50, 50],
            [100, 50],
            [100, 0],
          ],
        },
      ],
    };
    const [time] = inSystem(valuesOf(pier({}, [["west", "0 s", "1 m/s"]], bent)), 1);
    // Each of the three corners has a curve of 25 m.
    expect(time).toBeCloseTo(200 - 3 * 2 * 25 + (3 * Math.PI * 25) / 2, 0);
  });
});
