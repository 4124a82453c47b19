import fc from "fast-check";
import { compile, measuresOf, readStudy, run, type Study } from "../src/index.ts";
import { compiled, departuresOf, valuesOf } from "./oneRun.ts";
import { study } from "./study.ts";

type Loose = Record<string, unknown>;

const PEOPLE = {
  id: "t",
  name: "People",
  key: "name",
  columns: [
    { id: "name", name: "name", holds: "text" },
    { id: "weld", name: "weld", holds: "number", unit: "" },
    { id: "pace", name: "pace", holds: "number", unit: "" },
    { id: "home", name: "home", holds: "element" },
  ],
  rows: [
    ["Ann", "2", "2", "West"],
    ["Bo", "0", "1", "East"],
    ["Cy", "1", "0.5", "East"],
  ],
};

/** Two stations at 0 and 100 m, and three people of whom each is another. */
const shop = (
  needs: readonly [west: Loose, east: Loose],
  jobs: readonly [west: string, east: string],
  {
    crew = {},
    station = {},
    run = {},
    people = PEOPLE,
  }: { crew?: Loose; station?: Loose; run?: Loose; people?: Loose } = {},
): Study => {
  const names = ["West", "East"];
  return study({
    elements: [
      ...names.map((_, i) => ({
        ...{ id: `a${i}`, kind: "arrivals", entityType: "t1", by: "list", listed: jobs[i], at: [100 * i, 50] },
      })),
      ...names.map((name, i) => ({
        ...{ id: `m${i}`, kind: "station", name, at: [100 * i, 0], time: "60 s", capacity: "3" },
        needs: [{ id: "n", anyOf: ["c"], ...needs[i] }],
        ...station,
      })),
      { id: "d", kind: "departures", at: [0, 90] },
      { id: "c", kind: "crew", name: "Fitters", table: "t", at: [0, 0], ...crew },
    ],
    links: names.flatMap((_, i) => [
      { id: `in${i}`, from: `a${i}`, to: `m${i}` },
      { id: `out${i}`, from: `m${i}`, to: "d" },
    ]),
    run: { length: "1000 s", ...run },
    more: { tables: [people] },
  });
};

/** Who comes at the second arrivals is more urgent than the others. */
function asUrgent(of: Study): Study {
  const [design] = of.designs;
  const urgent = { ...design.entityTypes[0], id: "t2", name: "Urgent" };
  const elements = design.elements.map((e) =>
    e.id === "a1"
      ? { ...e, entityType: "t2" }
      : e.id === "m1"
        ? { ...e, priority: "if(entity.type = Urgent, 1, 0)" }
        : e,
  );
  return { ...of, designs: [{ ...design, entityTypes: [...design.entityTypes, urgent], elements }] } as Study;
}

describe("members by the rows of a table, by hand", () => {
  test("who can do it is asked, and the time goes by who does it", () => {
    const welders = { can: "who.weld >= 1", times: "1 / who.pace" };
    // Ann takes 30 s, then again 30 s; Cy 120 s. Bo never comes, though free.
    expect(departuresOf(shop([welders, {}], ["0 s, 1 s, 2 s", "999 s"]))).toEqual([30, 60, 121]);
    // Without either all three do it, and all take a minute.
    expect(departuresOf(shop([{}, {}], ["0 s, 1 s, 2 s", "999 s"]))).toEqual([60, 61, 62]);
    expect(valuesOf(shop([welders, {}], ["0 s, 1 s, 2 s", "999 s"])).get("c/state.busy")).toBeCloseTo(
      (30 + 30 + 120 + 1) / 3000,
      12,
    );
  });

  test("nobody who alone can do one thing is set aside for another", () => {
    // Two for the job: any one, and one who welds well. The first free is Ann, who alone can weld well.
    const both = {
      needs: [
        { id: "a", anyOf: ["c"] },
        { id: "b", anyOf: ["c"], can: "who.weld >= 2" },
      ],
    };
    const of = shop([{}, {}], ["0 s, 0 s", "999 s"], { station: both });
    // The second job waits for Ann, and not with somebody set aside meanwhile.
    expect(departuresOf(of)).toEqual([60, 120]);
    // The slowest of those who do it together sets the pace: Ann with Bo 1, Ann with Cy 2.
    const paced = { needs: both.needs.map((need) => ({ ...need, times: "1 / who.pace" })) };
    expect(departuresOf(shop([{}, {}], ["0 s", "999 s"], { station: paced }))).toEqual([60]);
  });

  test("the one of the least value goes, that free longest, or the first in order", () => {
    const goes = (chosen: Loose) =>
      departuresOf(shop([{ times: "1 / who.pace" }, {}], ["0 s, 200 s, 400 s", "999 s"], { crew: chosen }));
    expect(goes({})).toEqual([30, 230, 430]);
    expect(goes({ chosen: "least value", worth: "row.pace" })).toEqual([120, 320, 520]);
    expect(goes({ chosen: "longest idle" })).toEqual([30, 260, 520]);
    expect(goes({ chosen: "least used" })).toEqual([30, 260, 520]);
    // The one of the least value among those who can.
    const able = shop([{ times: "1 / who.pace", can: "who.weld = 0" }, {}], ["0 s", "999 s"], {
      crew: { chosen: "least value", worth: "row.pace" },
    });
    expect(departuresOf(able)).toEqual([60]);
  });

  test("each begins at a home of its own, walks at a pace of its own, and goes home again", () => {
    const crew = { walks: "straight", chosen: "nearest", homeAt: "row.home", speed: "row.pace * 1 m/s", idle: "home" };
    // Ann is at home at West: no walk. The second there has Bo come, 100 m at 1 m/s.
    const of = shop([{}, {}], ["0 s, 1 s", "900 s"], { crew });
    expect(departuresOf(of)).toEqual([60, 161, 960]);
    const values = valuesOf(of);
    expect(values.get("c/distance")).toBe(200);
    expect(values.get("c/state.returning")).toBeCloseTo(100 / 3000, 12);
    // Of those who can the nearest: Cy, though Ann is nearer.
    const slow = shop([{ can: "who.weld = 1" }, {}], ["0 s", "999 s"], { crew });
    expect(departuresOf(slow)).toEqual([260]);
  });

  test("over ways it is the homes that must be on them, and not the symbol of the crew", () => {
    const crew = { walks: "over ways", homeAt: "row.home", speed: "1 m/s", at: [500, 500] };
    const of = shop([{ can: "who.weld = 1" }, {}], ["0 s", "999 s"], { crew });
    const roads = [
      {
        id: "w",
        points: [
          [0, 0],
          [100, 0],
        ],
        from: "m0",
        to: "m1",
      },
    ];
    const read = readStudy({ ...of, designs: [{ ...of.designs[0], roads }] });
    if (!read.ok) throw new Error(JSON.stringify(read.problems));
    // Cy comes from the east, 100 m.
    expect(departuresOf(read.study)).toEqual([160]);
    const lost = readStudy({
      ...of,
      designs: [
        {
          ...of.designs[0],
          roads: [
            {
              ...roads[0],
              to: "",
              points: [
                [0, 0],
                [50, 0],
              ],
            },
          ],
        },
      ],
    });
    if (!lost.ok) throw new Error(JSON.stringify(lost.problems));
    expect(run(compiled(lost.study), { seed: 1, replication: 1 })!.failure).toMatchObject({
      code: "no-route",
      id: "c",
    });
  });

  test("what is left of work goes at the pace of who goes on with it", () => {
    // Cy, who has half the pace, begins; at 30 s he is taken away for more urgent work until 90, and Ann, back from
    // hers at 60, takes over: 90 s of 120 were left of the work, at four times the pace.
    const of = shop([{ times: "1 / who.pace", can: "who.weld >= 1" }, { can: "who.weld = 1" }], ["0 s, 0 s", "30 s"], {
      crew: { preempt: true },
    });
    const [design] = of.designs;
    const urgent = {
      ...of,
      designs: [
        {
          ...design,
          elements: design.elements.map((e) =>
            e.id === "m1" ? { ...e, priority: "1" } : e.id === "m0" ? { ...e, time: "120 s" } : e,
          ),
        },
      ],
    } as Study;
    // Ann does hers in 60 s. Cy's took 240 s; at 30 there are 210 s left, which with Ann, from 60 on, are 52.5 s.
    expect(departuresOf(urgent)).toEqual([60, 90, 112.5]);
  });

  test("and what was said of one piece of work does not hold for the next", () => {
    // Cy takes 120 s at West, goes on to East, where nobody is asked how fast, and is taken away at 150 for 60 s.
    const of = shop([{ times: "1 / who.pace" }, {}], ["0 s", "150 s"], { crew: { preempt: true } });
    const [design] = of.designs;
    const people = { ...of.tables[0], rows: [["Cy", "1", "0.5", "East"]] };
    const inRow = {
      ...of,
      tables: [people],
      designs: [
        {
          ...design,
          links: [...design.links.filter(({ id }) => id !== "out0"), { ...design.links[1], id: "on", to: "m1" }],
        },
      ],
    } as unknown as Study;
    expect(departuresOf(asUrgent(inRow))).toEqual([210, 240]);
  });

  test("the use of each is told by the name of its row", () => {
    const of = shop([{ can: "who.weld >= 1" }, {}], ["0 s, 1 s, 2 s", "999 s"]);
    const values = valuesOf(of);
    // Ann from 0 to 60 and from 60 to 120, Cy from 1 to 61, Bo from 999 on … or whoever is first then.
    expect([1, 2, 3].map((n) => values.get(`c/use.${n}`))).toEqual([121 / 1000, 0, 60 / 1000]);
    const labels = measuresOf(compiled(of)).filter(({ measure }) => measure === "use");
    expect(labels.map(({ label }) => label)).toEqual(
      ["Ann", "Bo", "Cy"].map((name) => `${name}: share of time in use`),
    );
  });

  test("as many are drawn and needed as there are rows", () => {
    const { model } = compiled(shop([{}, {}], ["0 s", "999 s"]));
    expect(model.design.elements.find(({ id }) => id === "c")).toMatchObject({ count: "3" });
    const many = (count: string) => {
      const of = shop([{ count }, {}], ["0 s", "999 s"]);
      return compile(of, of.designs[0].id).problems.map(({ code }) => code);
    };
    expect([many("3"), many("4")]).toEqual([[], ["need-too-large"]]);
  });

  test("repairs ask who can, too", () => {
    const broken = shop([{}, {}], ["0 s", "999 s"], {
      station: {
        needs: [],
        breakdowns: [
          {
            ...{ id: "b", clock: "jobs", every: "1 h", jobs: "1", repair: "60 s", anyOf: ["c"], count: "1" },
            ...{ can: "who.weld = 1", times: "1 / who.pace" },
          },
        ],
      },
    });
    expect(valuesOf(broken).get("m0/state.down")).toBeCloseTo(120 / 1000, 9);
    expect(valuesOf(broken).get("c/state.busy")).toBeCloseTo((120 + 0) / 3000, 9);
  });

  test("whom nobody is, and rows that are not there, are told", () => {
    const none = compiled(shop([{ can: "who.weld > 5" }, {}], ["0 s", "999 s"]));
    expect(run(none, { seed: 1, replication: 1 })!.failure).toMatchObject({
      code: "nobody-can",
      id: "m0",
    });
    const problems = (of: Study) => compile(of, of.designs[0].id).problems.map(({ code, field }) => `${code} ${field}`);
    expect(problems(shop([{ can: "who.weld > 1" }, {}], ["0 s", "0 s"], { crew: { table: "" } }))).toEqual([
      "no-rows needs.n.can",
    ]);
    expect(problems(shop([{ can: "who.sew > 1" }, {}], ["0 s", "0 s"]))).toEqual(["bad-expression needs.n.can"]);
    expect(problems(shop([{}, {}], ["0 s", "0 s"], { crew: { table: "x" } }))).toContain("missing-table table");
  });

  test("a crew of equal rows gives the bits of one by count, and a need that all can meet changes nothing", () => {
    const equal = {
      ...PEOPLE,
      rows: [
        ["A", "1", "1", "West"],
        ["B", "1", "1", "West"],
        ["C", "1", "1", "West"],
      ],
    };
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 1e6 }), fc.constantFrom("no", "straight"), (seed, walks) => {
        const of = (crew: Loose, need: Loose) => {
          const made = shop([need, need], ["0 s", "0 s"], { crew: { walks, ...crew }, people: equal, run: { seed } });
          const [design] = made.designs;
          const elements = design.elements.map((e) =>
            e.kind === "arrivals"
              ? { ...e, by: "time between" as const, between: "exponential(20 s)" }
              : e.kind === "station"
                ? { ...e, time: "exponential(20 s)" }
                : e,
          );
          const values = valuesOf({ ...made, designs: [{ ...design, elements }] } as Study);
          // What only those have who are told apart.
          return new Map([...values].filter(([key]) => !key.startsWith("c/use.")));
        };
        const plain = of({ table: "", count: "3" }, {});
        expect(of({}, {})).toEqual(plain);
        expect(of({}, { can: "who.weld >= 1" })).toEqual(plain);
      }),
      { numRuns: 10, seed: 4 },
    );
  });
});
