import { compile, type Study } from "../src/index.ts";
import { departuresOf, valuesOf } from "./oneRun.ts";
import { study } from "./study.ts";

type Loose = Record<string, unknown>;

const TABLE = {
  id: "t",
  name: "Berths",
  key: "name",
  columns: [
    { id: "name", name: "name", holds: "text" },
    { id: "speed", name: "speed", holds: "number", unit: "m/s" },
  ],
  rows: [
    ["North", "2"],
    ["South", "1"],
  ],
};

/** Two gates, a family, from which vehicles or stewards, a family too, bring who comes 100 m on. */
const port = (kind: "carried" | "escorted", family: Loose, more: { gates?: Loose; link?: Loose } = {}): Study =>
  study({
    types: [{ id: "t1", name: "Guest", speed: "2 m/s" }],
    elements: [
      {
        id: "a",
        kind: "arrivals",
        name: "Door",
        by: "list",
        listed: "0 s, 0 s, 0 s, 0 s",
        at: [0, -50],
      },
      { id: "g", kind: "queue", name: "Gate", at: [0, 0], family: { table: "t", step: [0, 20] }, ...more.gates },
      { id: "d", kind: "departures", name: "Out", at: [100, 0] },
      {
        id: "v",
        name: "Fleet",
        at: [0, 0],
        ...(kind === "carried"
          ? { kind: "vehicle", load: "0 s", unload: "0 s", speedLoaded: "row.speed" }
          : { kind: "crew", walks: "straight" }),
        speed: "row.speed",
        family: { table: "t", step: [0, 20], ...family },
      },
    ],
    links: [
      { id: "l", from: "a", to: "g", among: "in turn" },
      { id: "m", from: "g", to: "d", kind, by: "v", ...more.link },
    ],
    run: { length: "2000 s" },
    more: { tables: [TABLE] },
  });

const problemsOf = (of: Study) => compile(of, "d1").problems.map(({ code, message }) => `${code}: ${message}`);
/** Metres from the second gate to the way out. */
const SOUTH = Math.hypot(100, 20);

describe.each(["carried", "escorted"] as const)(
  "members of a family of whom each takes along links of its own: %s",
  (kind) => {
    test("the member with the key of the one that the link leaves", () => {
      const of = port(kind, {});
      expect(problemsOf(of)).toEqual([]);
      // At each gate two: out with the first, back, out with the second. North does 2 m/s, South 1.
      const expected = [50, 150, SOUTH, 3 * SOUTH].sort((a, b) => a - b);
      departuresOf(of).forEach((t, i) => expect(t).toBeCloseTo(expected[i], 9));
      const values = valuesOf(of);
      expect(values.get("v/North/distance")).toBeCloseTo(300, 9);
      expect(values.get("v/South/distance")).toBeCloseTo(3 * SOUTH, 9);
    });

    test("the only member there is takes along all", () => {
      const one = port(kind, { table: "", count: 1 });
      const plain = {
        ...one,
        designs: [{ ...one.designs[0], elements: one.designs[0].elements.map(atOneSpeed) }],
      } as Study;
      expect(problemsOf(plain)).toEqual([]);
      expect(departuresOf(plain)).toHaveLength(4);
    });

    test("where no key is the same it is told, and why", () => {
      expect(problemsOf(port(kind, {}, { gates: { family: undefined } }))).toEqual([
        expect.stringContaining(
          "Fleet has several members, and none has the key of one that this link leaves or leads to.",
        ),
      ]);
    });
  },
);

const atOneSpeed = <E extends { id: string }>(element: E): E =>
  element.id === "v"
    ? { ...element, speed: "1 m/s", ...("speedLoaded" in element ? { speedLoaded: "1 m/s" } : {}) }
    : element;
