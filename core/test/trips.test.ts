import fc from "fast-check";
import { compile, measuresOf, open, run, type Study } from "../src/index.ts";
import { compiled, departuresOf, valuesOf } from "./oneRun.ts";
import { study } from "./study.ts";

type Loose = Record<string, unknown>;
/** From where to where somebody is to be carried, in metres to the right, and what they weigh. */
type Call = readonly [from: number, to: number, weight: number, first?: string, limit?: string];

/** Callers who are carried along a line by vehicles at home at 0. */
const line = (vehicle: Loose, calls: readonly Call[], more: { elements?: Loose[]; run?: Loose } = {}): Study => {
  const places = [...new Set(calls.map(([, to]) => to))];
  return study({
    types: calls.map(([, , weight], i) => ({
      id: `t${i}`,
      name: `Crate ${i}`,
      attributes: [{ name: "weight", value: String(weight) }],
    })),
    elements: [
      ...calls.map(([from, , , first = "0 s", limit = "1"], i) => ({
        id: `a${i}`,
        kind: "arrivals",
        entityType: `t${i}`,
        between: "5 s",
        first,
        limit,
        at: [from, 0],
      })),
      ...places.map((to) => ({ id: `d${to}`, kind: "departures", at: [to, 0] })),
      {
        id: "v",
        kind: "vehicle",
        name: "Van",
        at: [0, 0],
        speed: "10 m/s",
        speedLoaded: "5 m/s",
        load: "10 s",
        unload: "5 s",
        limit: "10",
        takes: "entity.weight",
        trip: "several stops",
        ...vehicle,
      },
      ...(more.elements ?? []),
    ],
    links: calls.map(([, to], i) => ({ id: `l${i}`, from: `a${i}`, to: `d${to}`, kind: "carried", by: "v" })),
    run: { length: "1 h", ...more.run },
  });
};

describe("trips with several stops, by hand", () => {
  const calls: Call[] = [
    [100, 400, 3],
    [200, 500, 4],
    [300, 400, 2],
    [300, 400, 5],
  ];

  test("three pick-ups and two put-downs under a weight limit; who does not fit waits for the next", () => {
    const of = line({}, calls);
    // Empty to 100 in 10 s; loads till 20, 50 and 80; at 400 at 100, two go on at 110; at 500 at 130, one at 135.
    // From there empty to 300 in 20 s, loads till 165, and at 400 at 185.
    expect(departuresOf(of)).toEqual([110, 110, 135, 190]);
    const values = valuesOf(of);
    expect(values.get("v/trips")).toBe(2);
    expect(values.get("v/brought")).toBe(4);
    expect(values.get("v/distance")).toBe(500 + 200 + 100);
    expect(values.get("v/distanceLoaded")).toBe(400 + 100);
    expect(values.get("v/wait.max")).toBe(155);
    expect(values.get("v/wait.mean")).toBeCloseTo((10 + 40 + 70 + 155) / 4, 9);
    // A vehicle set out at once for the first three, at 135 for the last.
    expect(values.get("v/noneFree.mean")).toBeCloseTo(135 / 4, 9);
    expect(values.get("v/onTheWay.mean")).toBeCloseTo((10 + 40 + 70 + 20) / 4, 9);
    expect(values.get("t0/carried.mean")).toBe(100);
    // While it picks others up it drives with a load.
    expect(values.get("v/doing.empty")).toBeCloseTo((10 + 20) / 3600, 12);
    expect(values.get("v/doing.loaded")).toBeCloseTo((20 + 20 + 20 + 20 + 20) / 3600, 12);
  });

  test("in the order in which they asked", () => {
    const of = line({ visits: "in order" }, [calls[0], calls[2], calls[1]]);
    // To 100 at 10, to 300 at 60, back to 200 at 90; then to 400 at 140 and to 500 at 170.
    expect(departuresOf(of)).toEqual([150, 150, 175]);
  });

  test("those come along who have come to a place meanwhile, but not those elsewhere", () => {
    const of = line({}, [
      [100, 400, 3, "0 s", "2"],
      [200, 400, 1, "5 s"],
    ]);
    // Both of 100 load till 30, and are off at 400 at 100; then back to 200 at 120, and to 400 at 170.
    expect(departuresOf(of)).toEqual([100, 100, 175]);
  });

  test("what is heavier than the limit is told", () => {
    const { program } = compile(
      line({}, [
        [100, 400, 3],
        [200, 400, 11],
      ]),
      "d1",
    );
    const session = open(program!, { seed: 3, replication: 1 });
    session.advanceTo(100);
    expect(session.failure?.code).toBe("over-limit");
    expect(session.failure?.message).toContain("11");
  });
});

describe("batched trips, by hand", () => {
  const crowd = (vehicle: Loose) =>
    study({
      elements: [
        { id: "a", kind: "arrivals", between: "30 s", first: "0 s", limit: "4", at: [0, 0] },
        { id: "d", kind: "departures", at: [100, 0] },
        {
          id: "v",
          kind: "vehicle",
          at: [0, 0],
          speed: "10 m/s",
          speedLoaded: "5 m/s",
          limit: "3",
          least: "3",
          ...vehicle,
        },
      ],
      links: [{ id: "l", from: "a", to: "d", kind: "carried", by: "v" }],
      run: { length: "1 h" },
    });

  test("one sets out when so many wait, or one has waited as long as it does", () => {
    // The third comes at 60; the fourth, at 90, has waited 100 s at 190, when the van comes back in 10 s.
    expect(departuresOf(crowd({ patience: "100 s" }))).toEqual([80, 80, 80, 220]);
    const values = valuesOf(crowd({ patience: "100 s" }));
    expect(values.get("v/wait.max")).toBe(110);
    expect(values.get("v/noneFree.mean")).toBeCloseTo((60 + 30 + 0 + 100) / 4, 9);
  });

  test("as much as one carries is enough, and what waits counts, be it more than fits", () => {
    // Two of three: one is full with them.
    expect(departuresOf(crowd({ limit: "2" }))).toEqual([50, 50, 120, 120]);
    // Of 7 and 7 one fits under 10, and 8 have been asked for.
    const heavy = line({ trip: "same way", least: "8", load: "0 s", unload: "0 s" }, [[0, 100, 7, "0 s", "2"]]);
    expect(departuresOf(heavy)).toEqual([5 + 20]);
  });

  test("without patience the last wait for ever, and one that is alone takes the others of its way along", () => {
    expect(departuresOf(crowd({}))).toEqual([80, 80, 80]);
    expect(valuesOf(crowd({})).get("v/waiting.end")).toBe(1);
    // Patience of the first alone: the others who have come go with it.
    expect(departuresOf(crowd({ patience: "40 s" }))).toEqual([60, 60, 130, 130]);
  });
});

describe("tours, by hand", () => {
  const bus = (vehicle: Loose, length = "1000 s") =>
    study({
      elements: [
        ...["ac", "ab", "ac2", "bc"].map((id) => ({
          id,
          kind: "arrivals",
          between: "10 h",
          first: "0 s",
          limit: "1",
          at: [0, 0],
        })),
        { id: "b2", kind: "departures", at: [100, 0] },
        { id: "c", kind: "departures", at: [200, 0] },
        {
          id: "v",
          kind: "vehicle",
          at: [0, 0],
          speed: "10 m/s",
          speedLoaded: "10 m/s",
          load: "5 s",
          unload: "5 s",
          limit: "2",
          idle: "home",
          runs: "on a tour",
          stops: ["a0", "b0", "c"].map((stop) => ({ id: `s${stop}`, stop, stay: "30 s" })),
          tourFirst: "60 s",
          tourEvery: "600 s",
          ...vehicle,
        },
        { id: "a0", kind: "junction", at: [0, 0], wayOut: "condition" },
        { id: "b0", kind: "junction", at: [100, 0], wayOut: "condition" },
      ],
      types: ["ac", "ab", "ac2", "bc"].map((id) => ({ id: `t${id}`, name: `For ${id}` })),
      links: [
        { from: "ac", to: "a0" },
        { from: "ab", to: "a0" },
        { from: "ac2", to: "a0" },
        { from: "bc", to: "b0" },
        { from: "a0", to: "c", kind: "carried", by: "v", condition: "entity.far" },
        { from: "a0", to: "b0", kind: "carried", by: "v" },
        { from: "b0", to: "c", kind: "carried", by: "v", condition: "entity.far" },
        { from: "b0", to: "b2" },
      ],
      run: { length },
    });
  const withTypes = (of: Study): Study => {
    const [design] = of.designs;
    return {
      ...of,
      designs: [
        {
          ...design,
          entityTypes: design.entityTypes.map((type) => ({
            ...type,
            attributes: [{ id: "far", name: "far", value: type.name === "For ab" ? "no" : "yes", stream: 0 }] as never,
          })),
          elements: design.elements.map((e) => (e.kind === "arrivals" ? { ...e, entityType: `t${e.id}` } : e)),
        },
      ],
    };
  };

  test("it calls at its stops in turn, puts down, takes who waits as far as they fit, and stands its time", () => {
    const of = withTypes(bus({}));
    // At the first stop at 60 two load till 70; it stands till 90. At b at 100 one is off at 105, one on at 110.
    // At c at 140: two off at 150. The next tour is due at 660: the third loads till 665, and is off at c at 745.
    expect(departuresOf(of)).toEqual([105, 150, 150, 745]);
    const values = valuesOf(of);
    expect(values.get("v/trips")).toBe(2);
    expect(values.get("v/brought")).toBe(4);
    expect(values.get("v/doing.atStop")).toBeCloseTo((20 + 20 + 20 + 25 + 30 + 25) / 1000, 12);
    expect(values.get("v/doing.returning")).toBeCloseTo((20 + 20) / 1000, 12);
    expect(values.get("v/wait.max")).toBe(660);
  });

  test("a tour that is due while none is there begins when one is", () => {
    // A tour takes 110 s and 20 s home; one is due every 50 s: they begin at 60, 190, 320 and so on.
    const values = valuesOf(withTypes(bus({ tourEvery: "50 s" })));
    expect(values.get("v/wait.max")).toBe(190);
    // With two vehicles the second tour begins in time.
    expect(valuesOf(withTypes(bus({ tourEvery: "50 s", count: "2" }))).get("v/wait.max")).toBe(110);
  });

  test("who is to go where the tour does not come to is a problem, and so is a tour of one stop", () => {
    const codes = (vehicle: Loose) => compile(withTypes(bus(vehicle)), "d1").problems.map(({ code }) => code);
    const stops = (...of: string[]) => of.map((stop) => ({ id: `s${stop}`, stop, stay: "0 s" }));
    expect(codes({ stops: stops("c", "b0", "a0") })).toContain("not-on-tour");
    expect(codes({ stops: stops("a0") })).toContain("no-stops");
    expect(codes({ stops: stops("a0", "b0", "nowhere") })).toContain("missing-element");
    expect(codes({ answers: "least value" })).toContain("no-value");
    expect(codes({})).toEqual([]);
  });
});

describe("battery or tank, by hand", () => {
  const three: Call[] = [0, 0, 0].map(() => [0, 200, 1] as const);
  const quick = { speedLoaded: "10 m/s", load: "0 s", unload: "0 s", limit: "1", takes: "1", trip: "same way" };

  test("one refills after a trip when little is left", () => {
    const of = line({ ...quick, range: "1000 m", below: "50 %", refillTime: "60 s" }, three);
    // After two trips 400 m are left: home at 80, full at 140.
    expect(departuresOf(of)).toEqual([20, 60, 160]);
    const values = valuesOf(of);
    expect(values.get("v/refills")).toBe(1);
    expect(values.get("v/doing.refilling")).toBeCloseTo(60 / 3600, 12);
  });

  test("at the place that is said", () => {
    const of = line({ ...quick, range: "1000 m", below: "50 %", refillTime: "60 s", refillAt: "d200" }, three);
    // Where it has put its load down: full at 120, back at 140.
    expect(departuresOf(of)).toEqual([20, 60, 160]);
    expect(valuesOf(of).get("v/distance")).toBe(200 + 400 + 400);
  });

  test("one that runs out on the way is told, at the very instant", () => {
    const failureOf = (vehicle: Loose) => {
      const { program } = compile(line({ ...quick, below: "0 %", ...vehicle }, three), "d1");
      const session = open(program!, { seed: 3, replication: 1 });
      session.advanceTo(1000);
      return session.failure;
    };
    // 700 m when it has come back for the third; it is 100 m short.
    const failure = failureOf({ range: "900 m" });
    expect([failure?.code, failure?.time]).toEqual(["out-of-charge", 90]);
    expect(failure?.message).toContain("Van 1");
    // 1000 m are enough to the end of the third trip, and then for nothing more, unless it can refill there.
    expect(failureOf({ range: "1000 m" })?.time).toBe(100);
    expect(failureOf({ range: "1000 m", refillAt: "d200" })).toBeUndefined();
    // Gathering speed at 1 m/s² it is 50 m along after 10 s and 100 m after 15 s, having set out for the third at 120.
    expect(failureOf({ range: "900 m", acceleration: "1 m/s^2" })?.time).toBeCloseTo(135, 9);
  });

  test("one that nobody waits for goes to where it parks", () => {
    const of = line({ ...quick, idle: "parks", parks: "d300" }, [...three.slice(0, 1), [0, 300, 1, "100 s"]]);
    // From 200 to 300 in 10 s, and from there back in 30 s.
    expect(departuresOf(of)).toEqual([20, 160]);
    expect(valuesOf(of).get("v/doing.returning")).toBeCloseTo(10 / 3600, 12);
  });
});

describe("cruising, setups and listed tours, by hand", () => {
  const quick = { speed: "10 m/s", speedLoaded: "10 m/s", load: "0 s", unload: "0 s", limit: "1", takes: "1" };
  const alone = { ...quick, trip: "same way" };

  test("one that nobody waits for goes round, and answers from where it comes next", () => {
    const round = (calls: Call[]) =>
      line(
        { ...alone, idle: "cruises", rounds: [300, 0].map((at) => ({ id: `r${at}`, at: at ? `d${at}` : "v" })) },
        calls,
      );
    // At 300 at 30, back at 60, and so on. Who asks at 40 at 100 waits until it is home at 60: from there 10 s.
    const of = round([[100, 300, 1, "40 s"]]);
    expect(departuresOf(of)).toEqual([90]);
    const values = valuesOf(of);
    expect(values.get("v/wait.max")).toBe(30);
    // An hour but for the trip of 30 s, of which 10 are empty.
    expect(values.get("v/doing.cruising")).toBeCloseTo((3600 - 30) / 3600, 9);
    expect(values.get("v/doing.idle")).toBe(0);
    expect(values.get("v/distance")).toBe(36000);
    // A round that is none.
    const problems = (rounds: Loose[]) =>
      compile(line({ ...alone, idle: "cruises", rounds }, [[0, 300, 1]]), "d1").problems.map(({ code }) => code);
    expect(problems([{ id: "r", at: "v" }])).toEqual(["no-stops"]);
    expect(
      problems([
        { id: "r", at: "v" },
        { id: "s", at: "gone" },
      ]),
    ).toEqual(["missing-element"]);
  });

  test("one refills on its round when little is left", () => {
    const values = valuesOf(
      line(
        {
          ...{ ...alone, idle: "cruises", range: "1000 m", below: "50 %", refillTime: "60 s" },
          rounds: [300, 0].map((at) => ({ id: `r${at}`, at: at ? `d${at}` : "v" })),
        },
        [[0, 300, 1, "2 h"]],
      ),
    );
    // Home again after 600 m, at 60 s, where it refills for a minute: every two minutes from then on.
    expect(values.get("v/refills")).toBe(30);
    expect(values.get("v/doing.refilling")).toBeCloseTo(0.5, 9);
  });

  test("a load of another kind than the one before needs a setup", () => {
    const calls: Call[] = [
      [0, 100, 1],
      [0, 100, 1],
      [0, 100, 2],
    ];
    const by = (more: Loose) => departuresOf(line({ ...alone, takes: "1", setup: "30 s", ...more }, calls));
    // Before each: 30 s and 10 s, back 10 s.
    expect(by({})).toEqual([40, 90, 140]);
    // On a change of weight: before the first and the third.
    expect(by({ setupBy: "entity.weight" })).toEqual([40, 60, 110]);
    // All on one trip: one after another, two setups.
    expect(by({ limit: "3", trip: "several stops", setupBy: "entity.weight" })).toEqual([70, 70, 70]);
    expect(valuesOf(line({ ...alone, setup: "30 s" }, calls)).get("v/doing.loading")).toBeCloseTo(90 / 3600, 12);
  });

  test("tours begin at listed times, and after the last of them none", () => {
    const shuttle = (tours: Loose) =>
      line(
        {
          ...{ ...quick, limit: "9", runs: "on a tour", idle: "home" },
          stops: [
            { id: "s1", stop: "a0", stay: "0 s" },
            { id: "s2", stop: "d100", stay: "0 s" },
          ],
          ...tours,
        },
        [[0, 100, 1, "0 s", "3"]],
      );
    // At 3 s, with who came at 0, and at 100 s with those of 5 and 10 s; listed in any order.
    expect(departuresOf(shuttle({ tours: "listed", tourTimes: "100 s, 3 s" }))).toEqual([13, 110, 110]);
    expect(valuesOf(shuttle({ tours: "listed", tourTimes: "100 s, 3 s" })).get("v/trips")).toBe(2);
    const problems = (tourTimes: string) =>
      compile(shuttle({ tours: "listed", tourTimes }), "d1").problems.map(({ code, field }) => `${code} ${field}`);
    expect(problems("")).toEqual(["bad-list tourTimes"]);
    expect(problems("3 m")).toEqual(["bad-list tourTimes"]);
  });
});

test("whatever vehicles are told: all are brought, limits hold, shares make up the whole, watched or not", () => {
  const vehicle = fc.record({
    count: fc.constantFrom("1", "3"),
    trip: fc.constantFrom("same way", "several stops"),
    visits: fc.constantFrom("nearest", "in order"),
    least: fc.constantFrom("", "2", "4"),
    patience: fc.constantFrom("60 s", "exponential(90 s)"),
    idle: fc.constantFrom("stay", "home", "parks", "cruises"),
    rounds: fc.constant(["a80", "d2"].map((at) => ({ id: at, at }))),
    setup: fc.constantFrom("", "exponential(10 s)"),
    setupBy: fc.constantFrom("", "entity.weight"),
    range: fc.constantFrom("", "3000 m"),
    every: fc.constantFrom("", "exponential(200 s)"),
    repair: fc.constant("exponential(30 s)"),
    order: fc.constantFrom("first come", "last come"),
  });
  fc.assert(
    fc.property(vehicle, fc.integer({ min: 1, max: 500 }), (of, seed) => {
      const program = compiled(
        study({
          types: [
            { id: "t1", name: "Crate", attributes: [{ name: "weight", value: "discrete([1, 2, 4], [3, 2, 1])" }] },
          ],
          elements: [
            ...[0, 80, 150].map((x) => ({
              id: `a${x}`,
              kind: "arrivals",
              between: "exponential(40 s)",
              limit: "25",
              at: [x, 0],
            })),
            { id: "d1", kind: "departures", at: [300, 0] },
            { id: "d2", kind: "departures", at: [220, 40] },
            {
              id: "v",
              kind: "vehicle",
              at: [0, 30],
              limit: "6",
              takes: "entity.weight",
              load: "exponential(5 s)",
              parks: "d2",
              below: "50 %",
              refillTime: "60 s",
              ...of,
            },
          ],
          links: [
            { id: "l1", from: "a0", to: "d1", kind: "carried", by: "v" },
            { id: "l2", from: "a80", to: "d2", kind: "carried", by: "v" },
            { id: "l3", from: "a150", to: "d1", kind: "carried", by: "v" },
          ],
          run: { length: "6 h" },
        }),
      );
      const session = open(program, { seed, replication: 1 });
      let mostOn = 0;
      for (let time = 0; time < 3000; time += 7.3) {
        session.advanceTo(time);
        const { carriers } = session.frame();
        for (let i = 0; i < carriers.count; i++)
          mostOn = Math.max(mostOn, (carriers.load[i] < 0 ? 0 : 1) + (carriers.others[i]?.length ?? 0));
      }
      session.advanceTo(6 * 3600);
      expect(session.failure).toBeUndefined();
      // Each weighs 1 at least.
      expect(mostOn).toBeGreaterThan(0);
      expect(mostOn).toBeLessThanOrEqual(6);
      const values = session.values();
      const infos = measuresOf(program);
      const value = (key: string) => values[infos.findIndex((m) => m.key === key)];
      expect(value("t1/departed")).toBe(75);
      expect(value("v/brought")).toBe(75);
      const shares = infos.flatMap(({ key }, i) => (key.startsWith("v/doing.") ? [values[i]] : []));
      expect(shares.reduce((sum, share) => sum + share, 0)).toBeCloseTo(1, 9);
      expect(run(program, { seed, replication: 1 })!.values).toEqual(values);
    }),
    { numRuns: 50, seed: 16 },
  );
});

test("what vehicles are told may read elements that come after them, and so may the pace of a crew", () => {
  const of = line(
    { speedLoaded: "5 m/s + 0 m/s * later.departed", order: "smallest first", rank: "later.departed" },
    [[100, 400, 1]],
    {
      elements: [
        { id: "c", kind: "crew", at: [0, 0], walks: "straight", speed: "1 m/s + 0 m/s * later.departed" },
        { id: "later", kind: "departures", at: [400, 0] },
      ],
    },
  );
  const [design] = of.designs;
  const links = design.links.map((link) => ({ ...link, to: "later" }));
  const elements = design.elements.filter(({ id }) => id !== "d400");
  expect(departuresOf({ ...of, designs: [{ ...design, elements, links }] })).toEqual([10 + 10 + 60 + 5]);
});
