import { readFileSync } from "node:fs";
import { join } from "node:path";
import { compile, readStudyText, routeSentences, run, type Study, measuresOf } from "../src/index.ts";
import { study } from "./study.ts";

const column = (id: string, holds: string, more: object = {}) => ({ id, name: id, holds, ...more });

/** Nine stations in a shop, and every link that a route may take. */
const STATIONS = ["A", "B", "C", "D", "E", "F", "G", "H", "I"];
/** Four kinds: where each goes, and for how many minutes. Eleven steps at most; places are come to twice. */
const KINDS: Readonly<Record<string, string>> = {
  Dinghy: "A3 B5 C2",
  Cutter: "B4 D7 A1 E2 F6 G3 H8 I2 C5 D4 B9",
  Yawl: "I1 H2 I3",
  Punt: "E10",
};
const stepsOf = (kind: string) =>
  KINDS[kind].split(" ").map((step) => ({ at: step[0], minutes: Number(step.slice(1)) }));

function routeTable(kinds = Object.keys(KINDS)) {
  return {
    id: "routes",
    name: "Routes",
    route: true,
    columns: [
      column("kind", "entity type"),
      column("next", "element"),
      column("time", "number", { unit: "min" }),
      column("again", "number", { default: "0" }),
    ],
    rows: kinds.flatMap((kind) => stepsOf(kind).map(({ at, minutes }) => [kind, at, String(minutes)])),
  };
}

function shop(parts: {
  table?: object;
  kinds?: string[];
  elements?: object;
  links?: (from: string, to: string) => boolean;
}): Study {
  const { kinds = Object.keys(KINDS), table = routeTable(kinds), links = () => true } = parts;
  const stations = STATIONS.filter((s) => kinds.some((kind) => stepsOf(kind).some(({ at }) => at === s)));
  const from = [...kinds.map((k) => `to${k}`), ...stations];
  return study({
    types: kinds.map((kind) => ({ id: kind, name: kind })),
    elements: [
      // Four hours apart, so that nobody waits.
      ...kinds.map((kind, i) => ({
        id: `to${kind}`,
        kind: "arrivals",
        entityType: kind,
        by: "list",
        listed: `${i * 4 + 1} h`,
        wayOut: "route",
      })),
      ...stations.map((id) => ({ id, kind: "station", time: "entity.route.time", wayOut: "route", ...parts.elements })),
      { id: "out", kind: "departures" },
    ],
    links: from.flatMap((a) =>
      [...stations, "out"].filter((b) => b !== a && links(a, b)).map((b) => ({ from: a, to: b })),
    ),
    run: { length: "24 h" },
    more: { tables: [table] },
  });
}

const figures = (of: Study) => {
  const { program, problems } = compile(of);
  if (!program) throw new Error(problems.map((p) => p.message).join("\n"));
  const result = run(program, { seed: 1, replication: 1 })!;
  const value = (key: string) => result.values[measuresOf(program).findIndex((m) => m.key === key)];
  return { value, failure: result.failure };
};

test("nine stations, four kinds, up to eleven steps: each takes the sum of its times, to the second", () => {
  const { value, failure } = figures(shop({}));
  expect(failure).toBeUndefined();
  for (const kind of Object.keys(KINDS)) {
    const minutes = stepsOf(kind).reduce((sum, step) => sum + step.minutes, 0);
    expect(value(`${kind}/timeInSystem.mean`)).toBeCloseTo(minutes * 60, 6);
    expect(value(`${kind}/departed`)).toBe(1);
  }
});

test("a kind more is a few rows more, and no other figure changes", () => {
  const before = figures(shop({}));
  const more = shop({});
  more.designs[0].entityTypes.push({ ...more.designs[0].entityTypes[0], id: "Sloop", name: "Sloop" });
  more.designs[0].elements.push({
    ...more.designs[0].elements[0],
    id: "toSloop",
    name: "toSloop",
    entityType: "Sloop",
    listed: "20 h",
  } as never);
  more.designs[0].links.push(
    ...["A", "out"].map((to) => ({ ...more.designs[0].links[0], id: `sloop ${to}`, from: "toSloop", to })),
  );
  more.tables[0].rows.push(["Sloop", "A", "11"], ["Sloop", "F", "0.5"]);
  const after = figures(more);
  expect(after.value("Sloop/timeInSystem.mean")).toBeCloseTo(690, 6);
  for (const kind of Object.keys(KINDS))
    expect(after.value(`${kind}/timeInSystem.mean`)).toBe(before.value(`${kind}/timeInSystem.mean`));
});

test("a route is told in a sentence, and the number of the step can be read", () => {
  const { program } = compile(shop({ kinds: ["Dinghy", "Punt"] }));
  expect(routeSentences(program!.model)).toEqual(["Dinghy: A, B, then C.", "Punt: E."]);
  const { value } = figures(shop({ kinds: ["Dinghy"], elements: { time: "entity.step * 1 min" } }));
  expect(value("Dinghy/timeInSystem.mean")).toBeCloseTo(360, 6);
});

test("a table that names no types is the route of all", () => {
  const table = {
    id: "routes",
    name: "Routes",
    route: true,
    columns: [column("next", "element"), column("time", "number", { unit: "min" })],
    rows: [
      ["C", "1"],
      ["A", "2"],
      ["B", "4"],
    ],
  };
  expect(figures(shop({ table, kinds: ["Dinghy"] })).value("Dinghy/timeInSystem.mean")).toBeCloseTo(420, 6);
});

test("what is missing is told where it stands: a link, an element, the column, the table", () => {
  const said = (of: Study) => compile(of).problems.map((p) => `${p.field}: ${p.message}`);
  expect(said(shop({ kinds: ["Dinghy"], links: (a, b) => !(a === "B" && b === "C") }))).toEqual([
    "cell.2.next: Routes, row 3: step 3 of Dinghy goes from B to C, and no link leads there.",
  ]);
  const bare = { ...routeTable(["Dinghy"]), route: false };
  expect(said(shop({ kinds: ["Dinghy"], table: bare }))).toContain(
    "wayOut: Entities leave toDinghy along their route, and no table is one.",
  );
  const nowhere = { ...routeTable(["Dinghy"]), columns: [column("kind", "entity type"), column("next", "text")] };
  expect(said(shop({ kinds: ["Dinghy"], table: nowhere }))).toEqual(
    expect.arrayContaining(["undefined: Routes is a route, and none of its columns says where entities go next."]),
  );
});

test("an end of a route from which no link leads on stops the run by name", () => {
  const { failure } = figures(shop({ kinds: ["Dinghy"], links: (a, b) => a !== "C" || b !== "out" }));
  expect(failure).toMatchObject({ code: "no-such-way", id: "C" });
  expect(failure?.message).toBe("A Dinghy at C has come to the end of its route, and no link leads on from there.");
});

test("a row of the route is not there before its first step", () => {
  const of = shop({ kinds: ["Punt"] });
  of.designs[0].elements.push({
    ...of.designs[0].elements[1],
    id: "hall",
    name: "hall",
    time: "entity.route.time",
  } as never);
  of.designs[0].elements[0] = { ...of.designs[0].elements[0], wayOut: "share" } as never;
  of.designs[0].links = [
    { ...of.designs[0].links[0], id: "x", from: "toPunt", to: "hall" },
    ...["E", "out"].map((to) => ({ ...of.designs[0].links[0], id: `hall ${to}`, from: "hall", to })),
    ...of.designs[0].links.filter((l) => l.from !== "toPunt"),
  ];
  const { program } = compile(of);
  const result = program && run(program, { seed: 1, replication: 1 });
  expect(result?.failure?.message).toContain('hall: "Time" reads a table. No row of Routes is at hand.');
});

test("the hull workshop is driven by its tables alone, and its question has an answer", () => {
  const read = readStudyText(readFileSync(join(__dirname, "../../demo/hull-workshop.json"), "utf8"));
  if (!read.ok) throw new Error(JSON.stringify(read.problems));
  const inYard = (design: string) => {
    const { program, problems } = compile(read.study, design);
    expect(problems).toEqual([]);
    const at = measuresOf(program!).findIndex((m) => m.key === "m1/mean");
    return [1, 2, 3, 4, 5].map((replication) => {
      const result = run(program!, { seed: 53, replication })!;
      expect(result.failure).toBeUndefined();
      return result.values[at];
    });
  };
  const [asItIs, bay, rigger] = ["as-is", "second-bay", "second-rigger"].map(inYard);
  // Paired by their random numbers: the rigger beats the bay, and the bay the yard as it is, by more than chance.
  for (const [worse, better] of [
    [asItIs, bay],
    [bay, rigger],
  ]) {
    const by = worse.map((v, i) => v - better[i]);
    const mean = by.reduce((sum, v) => sum + v, 0) / by.length;
    const sd = Math.sqrt(by.reduce((sum, v) => sum + (v - mean) ** 2, 0) / (by.length - 1));
    // Student's t of 4 degrees of freedom at 95 %.
    expect(mean).toBeGreaterThan((2.132 * sd) / Math.sqrt(by.length));
  }
});

/**
 * An open network of Jackson (1957): three single servers, exponential times, and a routing table of chances. With
 * arrivals at rate γ at the first, λ solves λ = γ + λP; the mean number at each is ρ/(1 − ρ).
 */
test("a product-form network from a routing table has the numbers of its formula", () => {
  const chances: readonly (readonly [from: string, to: string, chance: number])[] = [
    ["A", "B", 0.6],
    ["A", "C", 0.4],
    ["B", "A", 0.2],
    ["B", "out", 0.8],
    ["C", "B", 0.5],
    ["C", "out", 0.5],
  ];
  const of = study({
    elements: [
      { id: "in", kind: "arrivals", between: "exponential(10 min)" },
      ...["A", "B", "C"].map((id) => ({
        id,
        kind: "station",
        time: `exponential(Mean["${id}"].time)`,
        wayOut: "named",
        destination: `randomRow(Routing.chance, row.from = "${id}").to`,
      })),
      { id: "out", kind: "departures" },
    ],
    links: [{ from: "in", to: "A" }, ...chances.map(([from, to]) => ({ from, to }))],
    run: { length: "4000 h", warmUp: "100 h" },
    more: {
      tables: [
        {
          id: "mean",
          name: "Mean",
          key: "at",
          columns: [column("at", "text"), column("time", "number", { unit: "min" })],
          rows: [
            ["A", "5"],
            ["B", "6"],
            ["C", "8"],
          ],
        },
        {
          id: "routing",
          name: "Routing",
          columns: [column("from", "text"), column("to", "element"), column("chance", "number")],
          rows: chances.map(([from, to, chance]) => [from, to, String(chance)]),
        },
      ],
    },
  });
  // λA = γ + 0.2 λB, λB = 0.6 λA + 0.5 λC, λC = 0.4 λA: λB = 0.8 λA, so λA = γ / 0.84.
  const a = 0.1 / 0.84;
  const rho = { A: a * 5, B: 0.8 * a * 6, C: 0.4 * a * 8 };
  const { program } = compile(of);
  const runs = Array.from({ length: 12 }, (_, i) => run(program!, { seed: 11, replication: i + 1 })!.values);
  for (const [id, r] of Object.entries(rho)) {
    const at = (key: string) => measuresOf(program!).findIndex((m) => m.key === `${id}/${key}`);
    const busy = runs.map((values) => values[at("utilization")]);
    const inside = runs.map((values) => values[at("line.mean")] + values[at("utilization")]);
    for (const [values, truth] of [
      [busy, r],
      [inside, r / (1 - r)],
    ] as const) {
      const mean = values.reduce((sum, v) => sum + v, 0) / values.length;
      const sd = Math.sqrt(values.reduce((sum, v) => sum + (v - mean) ** 2, 0) / (values.length - 1));
      // Student's t of 11 degrees of freedom at 99.9 %.
      expect(Math.abs(mean - truth)).toBeLessThan((4.437 * sd) / Math.sqrt(values.length));
    }
  }
});
