import fc from "fast-check";
import { logicStudy, ran, values } from "./logicModel.ts";

type Loose = Record<string, unknown>;

/** Times of sailing from depots to islands, in minutes. */
const sailing = (depots: number, islands: number, minutes: (depot: number, island: number) => number) => ({
  id: "sailing",
  name: "Sailing",
  matrix: true,
  key: "depot",
  columns: [
    { id: "depot", name: "depot" },
    ...Array.from({ length: islands }, (_, i) => ({ id: `i${i + 1}`, name: String(i + 1), unit: "min" })),
  ],
  rows: Array.from({ length: depots }, (_, d) => [
    String(d + 1),
    ...Array.from({ length: islands }, (_, i) => String(minutes(d + 1, i + 1))),
  ]),
});

interface Fleet {
  readonly depots: number;
  readonly boats: number;
  readonly islands: number;
  readonly between: string;
  readonly minutes: (depot: number, island: number) => number;
  readonly depotOf: string;
  readonly island: string;
  readonly nextDepot: string;
  readonly length: string;
  readonly limit?: string;
}

/** Loads wait at their depot; boats go to one, wait for a load, carry it to its island and set it down. */
const fleet = ({
  depots,
  boats,
  islands,
  between,
  minutes,
  depotOf,
  island,
  nextDepot,
  length,
  limit = "",
}: Fleet) => ({
  types: [
    {
      id: "load",
      name: "Load",
      attributes: [
        { name: "no", value: "0" },
        { name: "depot", value: depotOf },
        { name: "island", value: island },
      ],
    },
    { id: "boat", name: "Boat", attributes: [{ name: "trips", value: "0" }] },
  ],
  tables: [sailing(depots, islands, minutes)],
  variables: [
    { id: "made", name: "Made", value: "0" },
    { id: "sum", name: "Sum of numbers", value: "0" },
    { id: "squares", name: "Sum of squares", value: "0" },
  ],
  measures: ["Made", "`Sum of numbers`", "`Sum of squares`"].map((value, i) => ({
    id: `m${i}`,
    name: `M${i}`,
    kind: "average",
    value,
  })),
  elements: [
    { id: "in", kind: "arrivals", name: "Loads in", entityType: "load", between, first: "0 min", limit },
    { id: "quay", kind: "junction", name: "Quay" },
    {
      id: "fleet",
      kind: "arrivals",
      name: "Fleet",
      entityType: "boat",
      between: "1 min",
      first: "0 min",
      group: String(boats),
      limit: "1",
    },
    { id: "sea", kind: "junction", name: "Sea" },
    { id: "isles", kind: "departures", name: "Isles" },
  ],
  links: [
    { from: "in", to: "quay" },
    { from: "fleet", to: "sea" },
    { from: "quay", to: "isles" },
    { from: "sea", to: "isles" },
  ],
  rules: [
    {
      at: "quay",
      event: "comes in",
      steps: [
        {
          do: "set",
          values: [
            { id: "a", what: "Made", to: "Made + 1" },
            { id: "b", what: "entity.no", to: "Made" },
          ],
        },
        { do: "keep", place: "loads", key: "entity.depot" },
      ],
    },
    {
      at: "sea",
      event: "comes in",
      steps: [
        {
          do: "while",
          condition: "yes",
          steps: [
            { do: "let", name: "depot", value: nextDepot },
            { do: "take", place: "loads", key: "depot", name: "cargo", carry: true },
            { do: "let", name: "island", value: "cargo.island" },
            { do: "wait", time: "Sailing[depot, island]" },
            { do: "set down", to: "Isles" },
            { do: "set", values: [{ id: "c", what: "entity.trips", to: "entity.trips + 1" }] },
            { do: "wait", time: "Sailing[depot, island]" },
          ],
        },
      ],
    },
    {
      at: "isles",
      event: "comes in",
      condition: "entity.type is Load",
      steps: [
        {
          do: "set",
          values: [
            { id: "d", what: "`Sum of numbers`", to: "`Sum of numbers` + entity.no" },
            { id: "e", what: "`Sum of squares`", to: "`Sum of squares` + entity.no * entity.no" },
          ],
        },
      ],
    },
  ],
  run: { length },
});

test("a day of one boat by hand, to the second", () => {
  // Loads at 0, 10, 20 … min, the k-th for island 1 or 2 by turns; 7 and 12 minutes' sailing.
  const value = values(
    fleet({
      depots: 1,
      boats: 1,
      islands: 2,
      between: "10 min",
      minutes: (_, island) => (island === 1 ? 7 : 12),
      depotOf: "1",
      island: "if(clock mod (20 min) = 0 min, 1, 2)",
      nextDepot: "1",
      length: "60 min",
    }),
  );
  // Taken at 0, 14, 38, 52: delivered at 7, 26, 45 min. In the system 7, 16 and 25 min; the fourth is at sea.
  expect(value("load/departed")).toBe(3);
  expect(value("load/timeInSystem.mean")).toBe((7 + 16 + 25) * 20);
  expect(value("load/waiting.mean")).toBe((0 + 4 + 18) * 20);
  expect(value("load/held.mean")).toBe((7 + 12 + 7) * 20);
  expect(value("m1/end")).toBe(1 + 2 + 3);
});

test("nothing is lost or doubled among four depots, eight boats and sixty islands", () => {
  fc.assert(
    fc.property(
      fc.record({
        depots: fc.integer({ min: 1, max: 4 }),
        boats: fc.integer({ min: 1, max: 8 }),
        seed: fc.nat(1000),
        minutes: fc.integer({ min: 1, max: 90 }),
      }),
      ({ depots, boats, seed, minutes }) => {
        const study = logicStudy(
          fleet({
            depots,
            boats,
            islands: 60,
            between: "exponential(9 min)",
            minutes: (d, i) => minutes + ((d * 7 + i * 13) % 30),
            depotOf: `uniformInteger(1, ${depots})`,
            island: "uniformInteger(1, 60)",
            nextDepot: `uniformInteger(1, ${depots})`,
            length: "10 d",
            limit: "60",
          }) as never,
        );
        const { result, value } = ran(study, { seed });
        expect(result.failure).toBeUndefined();
        const [created, departed, left] = [value("load/created"), value("load/departed"), value("load/inSystem.end")];
        expect(departed + left).toBe(created);
        expect(value("boat/inSystem.end")).toBe(boats);
        // All have come in ten days, each once: their numbers and the squares of these sum up.
        if (departed === 60) expect([value("m1/end"), value("m2/end")]).toEqual([(60 * 61) / 2, (60 * 61 * 121) / 6]);
        expect(ran(study, { seed }).result.values).toEqual(result.values);
      },
    ),
    { numRuns: 25, seed: 3 },
  );
});

test("an entity that has left is told when it is asked for", () => {
  const { result } = ran({
    elements: [
      { id: "in", kind: "arrivals", between: "10 min" },
      { id: "j", kind: "junction" },
      { id: "out", kind: "departures" },
    ],
    links: [
      { from: "in", to: "j" },
      { from: "j", to: "out" },
    ],
    types: [{ id: "t1", name: "Crate", attributes: [{ name: "w", value: "3" }] }],
    variables: [{ id: "n", name: "N", value: "0" }],
    rules: [
      { at: "j", event: "comes in", steps: [{ do: "keep", place: "yard" }] },
      {
        of: "system",
        event: "start",
        steps: [
          { do: "take", place: "yard", name: "box" },
          { do: "wait", time: "1 min" },
          { do: "set", values: [{ id: "a", what: "N", to: "box.w" }] },
        ] as Loose[],
      },
    ],
  });
  expect(result.failure).toMatchObject({ code: "step-failed", message: expect.stringContaining("no longer there") });
});

test("searches take the first, the last, the least or the most of those for which something holds", () => {
  const taken = (step: Loose) => {
    const value = values({
      elements: [
        { id: "in", kind: "arrivals", between: "10 min", first: "0 min", limit: "4" },
        { id: "j", kind: "junction" },
        { id: "out", kind: "departures" },
      ],
      links: [
        { from: "in", to: "j" },
        { from: "j", to: "out" },
      ],
      types: [{ id: "t1", name: "Crate", attributes: [{ name: "w", value: "(clock / 10 min + 2) mod 4" }] }],
      measures: [{ id: "m", name: "M", kind: "recorded" }],
      rules: [
        { at: "j", event: "comes in", steps: [{ do: "keep", place: "yard" }] },
        {
          of: "system",
          event: "once",
          first: "45 min",
          steps: [
            { do: "take", place: "Yard", name: "box", ...step },
            { do: "record", measure: "m", value: "box.w" },
          ],
        },
      ],
    });
    return value("m/recorded.mean");
  };
  // Weights 2, 3, 0, 1 in the order of coming.
  expect(taken({ which: "first" })).toBe(2);
  expect(taken({ which: "last" })).toBe(1);
  expect(taken({ which: "least", by: "box.w" })).toBe(0);
  expect(taken({ which: "most", by: "box.w" })).toBe(3);
  expect(taken({ which: "most", by: "box.w", where: "box.w < 2" })).toBe(1);
});
