import fc from "fast-check";
import { compile, MANNERS, measuresOf, metresAlong, open, PHASE, readStudy, run } from "../src/index.ts";
import { at, logicStudy, numbered } from "./logicModel.ts";
import { compiled, departuresOf, valuesOf } from "./oneRun.ts";
import { peopleTable } from "./peopleTable.ts";
import { study } from "./study.ts";

type Loose = Record<string, unknown>;

describe("a place, by hand", () => {
  const hall = (place: Loose, more: { elements?: Loose[]; links?: Loose[] } = {}) =>
    study({
      types: [{ id: "t1", name: "Visitor" }],
      elements: [
        { id: "a", kind: "arrivals", between: "10 s", first: "0 s", limit: "3" },
        { id: "p", kind: "place", name: "Benches", count: "2", time: "100 s", ...place },
        { id: "d", kind: "departures" },
        ...(more.elements ?? []),
      ],
      links: [{ from: "a", to: "p" }, ...(more.links ?? [{ from: "p", to: "d" }])],
      run: { length: "1000 s" },
    });

  test("each takes a spot and stays; who finds none waits for one", () => {
    expect(departuresOf(hall({}))).toEqual([100, 110, 200]);
    const values = valuesOf(hall({}));
    expect(values.get("p/left")).toBe(3);
    expect(values.get("p/wait.max")).toBe(80);
    expect(values.get("p/line.max")).toBe(1);
    expect(values.get("p/utilization")).toBeCloseTo(300 / 2000, 12);
    expect(values.get("t1/waiting.mean")).toBeCloseTo(80 / 3, 9);
    expect(values.get("t1/dwelling.mean")).toBe(100);
  });

  test("who waits no longer goes on as turned away, and still gets a spot that is free at once", () => {
    const elements = [{ id: "q", kind: "departures", name: "Other door" }];
    const links = [
      { from: "p", to: "d" },
      { from: "p", to: "q", takes: "turned away" },
    ];
    expect(departuresOf(hall({ patience: "30 s" }, { elements, links }))).toEqual([50, 100, 110]);
    const values = valuesOf(hall({ patience: "0 s" }, { elements, links }));
    expect([values.get("p/gaveUp"), values.get("p/left")]).toEqual([1, 2]);
    // Without a way for them they are lost.
    expect(valuesOf(hall({ patience: "0 s" })).get("t1/lost")).toBe(1);
  });

  test("they keep their spots until there is room where they go on, in the order of coming", () => {
    const elements = [{ id: "s", kind: "station", name: "Desk", time: "50 s" }];
    const links = [
      { from: "p", to: "s" },
      { from: "s", to: "d" },
    ];
    const of = hall({ count: "3", time: "0 s" }, { elements, links });
    expect(departuresOf(of)).toEqual([50, 100, 150]);
    const values = valuesOf(of);
    // In the place until called, not in a line at the desk: 0, 40 and 80 s, waiting and not blocked.
    expect(values.get("p/utilization")).toBeCloseTo(120 / 3000, 12);
    expect(values.get("t1/waiting.mean")).toBeCloseTo(120 / 3, 9);
    expect(values.get("s/queue.max") ?? 0).toBe(0);
  });

  test("by a calendar so many spots are there; nobody is sent away from one", () => {
    const pattern = [
      { duration: "50 s", value: "2" },
      { duration: "100 s", value: "0" },
      { duration: "2000 s", value: "2" },
    ];
    const calendars = [{ id: "c", name: "Hours", gives: "capacity", repeats: "pattern", pattern, fills: "2150 s" }];
    const base = hall({ calendar: "c" });
    expect(
      departuresOf({ ...base, ...study({ elements: [], links: [], more: { calendars } }), designs: base.designs }),
    ).toEqual([100, 110, 250]);
  });
});

/** Visitors come to a door at 0, and do some steps there, benches being 60 and 100 m away on either side. */
const visit = (
  steps: Loose[],
  more: { elements?: Loose[]; limit?: string; between?: string; roads?: Loose[]; length?: string } = {},
) => {
  const of = logicStudy({
    types: [{ id: "t1", name: "Visitor", speed: "2 m/s" }],
    elements: [
      {
        id: "a",
        kind: "arrivals",
        between: more.between ?? "10 s",
        first: "0 s",
        limit: more.limit ?? "1",
        at: [0, 0],
      },
      { id: "door", kind: "junction", name: "Door", at: [0, 0] },
      { id: "west", kind: "place", name: "West", count: "1", at: [-60, 0] },
      { id: "east", kind: "place", name: "East", count: "1", posture: "lying", at: [100, 0] },
      { id: "d", kind: "departures", name: "Out", at: [0, 0] },
      ...(more.elements ?? []),
    ],
    links: [
      { from: "a", to: "door" },
      { from: "door", to: "d" },
    ],
    rules: [at("door", "comes in", steps)],
    run: { length: more.length ?? "1000 s" },
  });
  return more.roads ? { ...of, designs: of.designs.map((d) => ({ ...d, roads: more.roads as never })) } : of;
};

test("the use of each spot is told where that is wanted", () => {
  const of = (bySpot: boolean) =>
    valuesOf(
      visit([{ do: "take a spot", places: ["seats"] }, { do: "wait", time: "100 s" }, { do: "free" }], {
        limit: "2",
        elements: [{ id: "seats", kind: "place", name: "Seats", count: "3", bySpot, at: [10, 0] }],
      }),
    );
  // A spot is taken from when one sets out for it: 5 s on the way and 100 there, each.
  expect([1, 2, 3].map((n) => of(true).get(`seats/use.${n}`))).toEqual([0.105, 0.105, 0]);
  expect(of(false).has("seats/use.1")).toBe(false);
});

describe("steps of people who move, by hand", () => {
  const stayAndLeave = [{ do: "wait", time: "100 s" }, { do: "free" }];

  test("one walks to an element and its steps go on there", () => {
    expect(departuresOf(visit([{ do: "walk to", to: "East" }]))).toEqual([50]);
    expect(departuresOf(visit([{ do: "walk to", to: "East", pace: "1 m/s" }]))).toEqual([100]);
    const values = valuesOf(
      visit([
        { do: "walk to", to: "East" },
        { do: "walk to", to: "West" },
      ]),
    );
    expect(values.get("t1/timeInSystem.max")).toBe(50 + 80);
    expect(values.get("t1/moving.mean")).toBe(130);
    // Halfway after 25 s.
    const session = open(compiled(visit([{ do: "walk to", to: "East" }])), { seed: 3, replication: 1 });
    session.advanceTo(25);
    const frame = session.frame();
    expect([frame.phase[0], metresAlong(frame, 0, 25)]).toEqual([PHASE.moving, 50]);
    expect(frame.walks[0].slice(0, 2).map((n) => compiled(visit([])).model.nodes[n].element.id)).toEqual([
      "door",
      "east",
    ]);
  });

  test("over the ways, at their limits and with their room", () => {
    const roads = [
      {
        id: "w",
        kind: "walkway",
        points: [
          [0, 0],
          [0, 30],
          [100, 30],
          [100, 0],
        ],
        from: "door",
        to: "east",
        oneWay: false,
        limit: "1 m/s",
        room: "1",
        width: 2,
        name: "Lane",
      },
    ];
    const steps = [{ do: "walk to", to: "East", over: "over ways" }];
    expect(departuresOf(visit(steps, { roads }))).toEqual([160]);
    // The second waits for the first.
    expect(departuresOf(visit(steps, { roads, limit: "2" }))).toEqual([160, 320]);
    const { program } = compile(visit([{ do: "walk to", to: "West", over: "over ways" }], { roads }), "d1");
    const session = open(program!, { seed: 3, replication: 1 });
    session.advanceTo(10);
    expect(session.failure?.code).toBe("no-route");
    expect(session.failure?.message).toContain("from Door to West");
  });

  test("a spot is the nearest that is free, the emptiest, or the first of those named", () => {
    const takes = (more: Loose, limit = "1") =>
      departuresOf(visit([{ do: "take a spot", ...more }, ...stayAndLeave], { limit }));
    // 30 s to the west, 50 s to the east.
    expect(takes({})).toEqual([130]);
    expect(takes({ places: ["east", "west"], chosen: "first" })).toEqual([150]);
    expect(takes({ posture: "lying" })).toEqual([150]);
    // The second finds the nearest taken, the third waits for the first to leave, at 130.
    expect(takes({}, "3")).toEqual([130, 160, 130 + 130]);
    // Both have one free: the first of the model.
    expect(takes({ chosen: "emptiest" }, "2")).toEqual([130, 160]);
  });

  test("a place that is added is found by all who look for such", () => {
    const sofa = { id: "sofa", kind: "place", name: "Sofa", count: "1", at: [20, 0] };
    expect(
      departuresOf(visit([{ do: "take a spot", posture: "sitting" }, ...stayAndLeave], { elements: [sofa] })),
    ).toEqual([110]);
  });

  test("a family of places is any of its members, wherever steps name resources", () => {
    const seats = {
      id: "seat",
      kind: "place",
      name: "Seat",
      count: "1",
      at: [50, 0],
      family: { count: 2, step: [0, 0] },
    };
    const left = (steps: Loose[]) =>
      departuresOf(visit([...steps, ...stayAndLeave], { elements: [seats], limit: "2" }));
    // Both at once, 25 s away; the free step frees them all.
    expect(left([{ do: "take a spot", places: ["seat"] }])).toEqual([125, 135]);
    expect(left([{ do: "claim", needs: [{ id: "n", anyOf: ["seat"] }] }])).toEqual([100, 110]);
    const named = [
      { do: "claim", needs: [{ id: "n", anyOf: ["seat"] }] },
      { do: "wait", time: "50 s" },
    ];
    expect(departuresOf(visit([...named, { do: "free", what: ["seat"] }], { elements: [seats], limit: "3" }))).toEqual([
      50, 60, 100,
    ]);
  });

  test("what is no place, or no resource, is a problem where one is named", () => {
    const problemsOf = (step: Loose) => {
      const of = visit([step, ...stayAndLeave]);
      return compile(of, of.designs[0].id).problems.map(({ message }) => message);
    };
    expect(problemsOf({ do: "take a spot", places: ["d"] })[0]).toContain("a place that it names is not there");
    expect(problemsOf({ do: "claim", needs: [{ id: "n", anyOf: ["d"] }] })[0]).toContain(
      "a resource that it names is not there",
    );
  });

  test("who waits for a spot in vain does something else", () => {
    const steps = [
      { do: "take a spot", places: ["west"], patience: "20 s" },
      { do: "else", steps: [{ do: "send", to: "Out" }] },
      ...stayAndLeave,
    ];
    expect(departuresOf(visit(steps, { limit: "2" }))).toEqual([30, 130]);
  });

  test("a spot that one has is kept while another is taken, and both are freed", () => {
    const steps = [
      { do: "take a spot", places: ["west"] },
      { do: "wait", time: "10 s" },
      { do: "take a spot", places: ["east"] },
      { do: "free", what: ["west"] },
      { do: "wait", time: "10 s" },
      { do: "free" },
    ];
    const values = valuesOf(visit(steps));
    // West at 30, asks for the other at 40, freed at 120 when it has come there.
    expect(values.get("t1/timeInSystem.max")).toBe(130);
    expect(values.get("west/utilization")).toBeCloseTo(120 / 1000, 12);
    expect(values.get("east/utilization")).toBeCloseTo(90 / 1000, 12);
  });

  test("no place for what is wanted is told", () => {
    const { program } = compile(visit([{ do: "take a spot", posture: "standing" }]), "d1");
    const session = open(program!, { seed: 3, replication: 1 });
    session.advanceTo(10);
    expect(session.failure?.message).toContain("standing");
  });

  test("one is escorted by somebody who walks there first, at the pace of the slower", () => {
    const crew = { id: "c", kind: "crew", name: "Stewards", at: [0, 40], walks: "straight", speed: "4 m/s" };
    const steps = [{ do: "be escorted", crew: ["c"], to: "East" }];
    // 10 s to the door, then 50 s together; the next is fetched from the east, in 25 s.
    expect(departuresOf(visit(steps, { elements: [crew], limit: "2" }))).toEqual([60, 60 + 25 + 50]);
    const values = valuesOf(visit(steps, { elements: [crew] }));
    expect(values.get("t1/moving.mean")).toBe(50);
    expect(values.get("c/distance")).toBe(40 + 100);
    // One that is slower sets the pace.
    expect(departuresOf(visit(steps, { elements: [{ ...crew, speed: "1 m/s" }] }))).toEqual([140]);
    // A crew that does not walk is there at once.
    const alone = visit(steps, { elements: [{ ...crew, walks: "no" }] });
    expect(departuresOf(alone)).toEqual([50]);
    // And goes as the entity does: it is seen halfway after half of the time.
    const session = open(compiled(alone), { seed: 3, replication: 1 });
    session.advanceTo(25);
    expect(metresAlong(session.frame(), 0, 25)).toBe(50);
  });

  test("who pushes goes at a pace of their own, and two who carry wait for each other", () => {
    const crew = { id: "c", kind: "crew", name: "Porters", at: [0, 40], walks: "straight", speed: "4 m/s" };
    const by = (how: string, more: Loose = {}) =>
      visit([{ do: "be escorted", crew: ["c"], to: "East", how, ...more }], { elements: [{ ...crew, count: "2" }] });
    // 10 s to the door; the guest, who does 2 m/s alone, is pushed at 4, or at a pace that is said.
    expect(departuresOf(by("pushes"))).toEqual([35]);
    expect(departuresOf(by("pushes", { pace: "2.5 m/s" }))).toEqual([50]);
    // Two carry: both walk there and back again.
    expect(departuresOf(by("carries"))).toEqual([35]);
    expect(valuesOf(by("carries")).get("c/distance")).toBe(2 * (40 + 100));
    expect(valuesOf(by("pushes")).get("c/distance")).toBe(40 + 100);
    // One who is slower than the other sets the pace of both: each is a row of a table.
    const people = peopleTable("m/s", [
      ["Ann", "4"],
      ["Bo", "2"],
    ]);
    const differ = (step: Loose) => {
      const of = visit([{ do: "be escorted", crew: ["c"], to: "East", ...step }], {
        elements: [{ ...crew, table: "t", speed: "row.pace" }],
      });
      const read = readStudy({ ...of, tables: [people] });
      return read.ok ? departuresOf(read.study) : read.problems;
    };
    // Bo comes after 20 s, and they need 50.
    expect(differ({ how: "carries" })).toEqual([70]);
    expect(differ({ how: "pushes", can: "who.pace < 3 m/s" })).toEqual([70]);
    expect(differ({ how: "pushes" })).toEqual([35]);
    // One ahead, one behind, as they are seen on their way.
    const session = open(compiled(by("carries")), { seed: 3, replication: 1 });
    session.advanceTo(20);
    expect([...session.frame().members.manner].map((n) => MANNERS[n - 1]).sort()).toEqual([
      "carries ahead",
      "carries behind",
    ]);
    expect(MANNERS[session.frame().taken[0] - 1]).toMatch(/^carries/);
  });

  test("one rides with a vehicle that comes for it", () => {
    const cart = {
      id: "v",
      kind: "vehicle",
      name: "Carts",
      at: [0, 0],
      speed: "4 m/s",
      speedLoaded: "5 m/s",
      load: "3 s",
    };
    const steps = [{ do: "ride to", by: "Carts", to: "East" }];
    // The second is fetched from the east, in 25 s.
    expect(departuresOf(visit(steps, { elements: [cart], limit: "2" }))).toEqual([23, 23 + 25 + 23]);
    const values = valuesOf(visit(steps, { elements: [cart] }));
    expect(values.get("t1/carried.mean")).toBe(23);
    expect(values.get("v/brought")).toBe(1);
  });
});

test("whatever visitors do: a spot has one at a time, all come out, parts make up the time, watched or not", () => {
  const act = fc.constantFrom<Loose>(
    { do: "walk to", to: "West" },
    { do: "walk to", to: "East", pace: "triangular(1 m/s, 2 m/s, 3 m/s)" },
    { do: "take a spot", chosen: "nearest" },
    { do: "take a spot", chosen: "emptiest", posture: "sitting" },
    { do: "wait", time: "exponential(20 s)" },
    { do: "be escorted", crew: ["c"], to: "East" },
    { do: "be escorted", crew: ["c"], to: "West", how: "carries" },
    { do: "ride to", by: "Carts", to: "West" },
    { do: "use", anyOf: ["c", "sofa"], time: "exponential(10 s)" },
    { do: "meet", count: "1", place: "hall" },
  );
  fc.assert(
    fc.property(fc.array(act, { minLength: 1, maxLength: 6 }), fc.integer({ min: 1, max: 99 }), (acts, seed) => {
      // Who has a spot frees it before it looks for the next, so that nobody waits for one another.
      const steps = [
        ...acts.flatMap((one) =>
          one.do === "take a spot" ? [one, { do: "wait", time: "15 s" }, { do: "free" }] : [one],
        ),
      ];
      const program = compiled(
        visit(numbered(steps), {
          limit: "20",
          length: "4 h",
          between: "exponential(25 s)",
          elements: [
            { id: "c", kind: "crew", name: "Stewards", count: "2", at: [0, 40], walks: "straight", idle: "home" },
            { id: "v", kind: "vehicle", name: "Carts", count: "2", at: [0, -30], limit: "2", idle: "home" },
            { id: "sofa", kind: "place", name: "Sofa", count: "3", at: [20, 10] },
          ],
        }),
      );
      const session = open(program, { seed, replication: 1 });
      for (let time = 0; time < 1000; time += 9.1) {
        session.advanceTo(time);
        const { occupants } = session.frame();
        for (const [index, of] of Object.entries(occupants)) {
          // Two who carry somebody are held by one.
          if (!program.model.nodes[Number(index)].traits.hasSpots) continue;
          const there = [...of].filter((serial) => serial > 0);
          expect(new Set(there).size).toBe(there.length);
        }
      }
      session.advanceTo(4 * 3600);
      expect(session.failure).toBeUndefined();
      const values = session.values();
      const infos = measuresOf(program);
      const value = (key: string) => values[infos.findIndex((m) => m.key === key)];
      expect(value("t1/departed")).toBe(20);
      const parts = ["waiting", "worked", "moving", "dwelling", "blocked", "waitingForVehicle", "carried"];
      const known = parts.map((part) => value(`t1/${part}.mean`)).filter((mean) => mean !== undefined);
      expect(known.reduce((sum, mean) => sum + mean, 0)).toBeCloseTo(value("t1/timeInSystem.mean"), 6);
      expect(run(program, { seed, replication: 1 })!.values).toEqual(values);
    }),
    { numRuns: 50, seed: 16 },
  );
});
