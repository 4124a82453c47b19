import { compile, open, type Study } from "../src/index.ts";
import { departuresOf, valuesOf } from "./oneRun.ts";
import { study } from "./study.ts";

type Loose = Record<string, unknown>;

const matrix = (rows: string[][], unit = "min", columns = ["Home", "Hatch", "Shed"]): Loose => ({
  id: "times",
  name: "Sailing times",
  matrix: true,
  key: "k",
  columns: [
    { id: "k", name: "from", holds: "text" },
    ...columns.map((name) => ({ id: name, name, holds: "number", unit })),
  ],
  rows,
});

const TIMES = [
  ["Home", "", "2", ""],
  ["Hatch", "", "", "5"],
  ["Shed", "", "4", ""],
];

/** Crates go from a hatch to a shed; where all of it lies on the plan is told nowhere. */
const quay = (
  vehicle: Loose,
  tables: Loose[],
  more: { roads?: Loose[]; limit?: string; weight?: string } = {},
): Study =>
  study({
    types: [{ id: "t1", name: "Crate", attributes: [{ name: "weight", value: more.weight ?? "1" }] }],
    elements: [
      { id: "a", kind: "arrivals", name: "Hatch", between: "1 s", first: "0 s", limit: more.limit ?? "2", at: [0, 0] },
      { id: "d", kind: "departures", name: "Shed", at: [50, 0] },
      { id: "v", kind: "vehicle", name: "Home", at: [0, 50], over: "table", fromTo: "times", ...vehicle },
    ],
    links: [{ id: "l", from: "a", to: "d", kind: "carried", by: "v" }],
    run: { length: "10 h" },
    design: { roads: more.roads ?? [] },
    more: { tables },
  });

describe("vehicles that go by a from-to table", () => {
  test("of times: at any speed, and how far it is nobody knows", () => {
    expect(departuresOf(quay({}, [matrix(TIMES)]))).toEqual([7 * 60, 16 * 60]);
    const values = valuesOf(quay({ speed: "50 m/s" }, [matrix(TIMES)]));
    expect(values.get("t1/timeInSystem.max")).toBe(16 * 60 - 1);
    expect(values.get("v/distance")).toBe(0);
    expect(values.get("v/doing.loaded")).toBeCloseTo(10 / 600, 12);
    // Halfway in time it is halfway between the two on the plan.
    const { program } = compile(quay({}, [matrix(TIMES)]), "d1");
    const session = open(program!, { seed: 3, replication: 1 });
    session.advanceTo(60);
    expect([...session.frame().carriers.until]).toEqual([120]);
  });

  test("of lengths: at its speed", () => {
    const rows = TIMES.map((row) => row.map((cell, i) => (i === 0 || cell === "" ? cell : `${Number(cell) * 100}`)));
    const of = quay({ speed: "4 m/s", speedLoaded: "2 m/s" }, [matrix(rows, "m")]);
    expect(departuresOf(of)).toEqual([50 + 250, 300 + 100 + 250]);
    expect(valuesOf(of).get("v/distance")).toBe(200 + 500 + 400 + 500);
  });

  test("what the table leaves out is gone over drawn ways, or is a problem", () => {
    const rows = TIMES.map((row) => (row[0] === "Hatch" ? ["Hatch", "", "", ""] : row));
    const roads = [
      {
        id: "r",
        points: [
          [0, 0],
          [50, 0],
        ],
        from: "a",
        to: "d",
      },
    ];
    expect(departuresOf(quay({ speedLoaded: "5 m/s" }, [matrix(rows)], { roads, limit: "1" }))).toEqual([120 + 10]);
    const problems = (tables: Loose[], vehicle: Loose = {}) =>
      compile(quay(vehicle, tables), "d1").problems.map(({ code, message }) => `${code}: ${message}`);
    expect(problems([matrix(rows)])).toEqual(["no-from-to: Sailing times says nothing of the way from Hatch to Shed."]);
    expect(problems([matrix(TIMES)], { fromTo: "" })[0]).toContain("by which table");
    expect(problems([{ ...matrix(TIMES, "kg") }])[0]).toContain("no matrix whose cells are all times");
    // The way home to who asks is known to be missing when it is to be gone.
    const bare = matrix(TIMES.map((row) => (row[0] === "Home" ? ["Home", "", "", ""] : row)));
    const { program } = compile(quay({}, [bare]), "d1");
    const session = open(program!, { seed: 3, replication: 1 });
    session.advanceTo(10);
    expect(session.failure?.code).toBe("no-route");
    expect(session.failure?.message).toContain("from Home to Hatch");
  });
});

describe("vehicles of which each has a row of a table", () => {
  const boats = (rows: string[][]): Loose => ({
    id: "boats",
    name: "Boats",
    key: "n",
    columns: [
      { id: "n", name: "name", holds: "text" },
      { id: "h", name: "home", holds: "element" },
      { id: "s", name: "speed", holds: "number", unit: "m/s" },
      { id: "l", name: "limit", holds: "number" },
    ],
    rows,
  });
  const fleet = {
    over: "straight",
    table: "boats",
    homeAt: "row.home",
    speed: "row.speed",
    speedLoaded: "row.speed",
    limit: "row.limit",
    takes: "entity.weight",
  };

  test("are as many as it has rows, each with its home, speed and limit", () => {
    const rows = [
      ["Tern", "Shed", "5", "1"],
      ["Gull", "Hatch", "2", "4"],
    ];
    // Both set out at once: the second of the table, at the hatch, takes 25 s; the other 10 s to come and 10 s back.
    expect(departuresOf(quay(fleet, [boats(rows)]))).toEqual([1 + 20, 25]);
    const values = valuesOf(quay(fleet, [boats(rows)]));
    expect(values.get("v/distance")).toBe(50 + 50 + 50);
    // What is too much for the small one waits for the large one, though the other is idle.
    const heavy = quay(fleet, [boats(rows)], { weight: "3" });
    expect(departuresOf(heavy)).toEqual([25, 75]);
    // At home each in its own place.
    const { program } = compile(quay({ ...fleet, idle: "home" }, [boats(rows)], { limit: "1" }), "d1");
    const session = open(program!, { seed: 3, replication: 1 });
    session.advanceTo(500);
    const at = (i: number) => program!.model.nodes[session.frame().carriers.to[i]].element.id;
    expect([at(0), at(1)]).toEqual(["d", "a"]);
  });

  test("that of the least value answers, as its row and who asks make it", () => {
    const rows = [
      ["Tern", "Shed", "5", "4"],
      ["Gull", "Hatch", "5", "4"],
    ];
    // The one at the shed is the faster for little, the other for much.
    const of = (weight: string) =>
      valuesOf(
        quay(
          {
            ...fleet,
            answers: "least value",
            worth:
              "if(row.home = Shed, 1, 3) * entity.weight - 4 * row.limit * (if(row.home = Shed, 0, 1) * (entity.weight - 1))",
          },
          [boats(rows)],
          {
            weight,
            limit: "1",
          },
        ),
      ).get("v/distance");
    expect(of("1")).toBe(50 + 50);
    expect(of("2")).toBe(50);
    // What gives no number ends the run.
    const { program } = compile(
      quay({ ...fleet, answers: "least value", worth: "0 / (row.limit - 4)" }, [boats(rows)]),
      "d1",
    );
    const session = open(program!, { seed: 3, replication: 1 });
    session.advanceTo(10);
    expect(session.failure?.code).toBe("bad-rank");
  });

  test("a home that is none is told", () => {
    const { program } = compile(quay(fleet, [boats([["Tern", "", "5", "1"]])]), "d1");
    const session = open(program!, { seed: 3, replication: 1 });
    session.advanceTo(10);
    expect(session.failure?.field).toBe("homeAt");
    expect(session.failure?.message).toContain("has no home");
  });

  test("what no vehicle can carry is told", () => {
    const { program } = compile(quay(fleet, [boats([["Tern", "Shed", "5", "1"]])], { weight: "3" }), "d1");
    const session = open(program!, { seed: 3, replication: 1 });
    session.advanceTo(10);
    expect(session.failure?.code).toBe("over-limit");
    expect(session.failure?.message).toContain("one carries from 0 to 1");
  });
});
