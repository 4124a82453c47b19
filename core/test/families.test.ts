import { readFileSync } from "node:fs";
import { join } from "node:path";
import {
  assignStreams,
  compile,
  type Design,
  expressionScopes,
  checkExpression,
  memberStream,
  phraseText,
  randomSources,
  readBack,
  readersOf,
  readStudyText,
  routeSentences,
  run,
  type Study,
  measuresOf,
} from "../src/index.ts";
import { chain, study } from "./study.ts";

type Loose = Record<string, unknown>;
const column = (id: string, holds: string, more: object = {}) => ({ id, name: id, holds, ...more });
const bays = (rows: readonly (readonly string[])[]) => ({
  id: "bayTable",
  name: "Bay list",
  key: "bay",
  columns: [
    column("bay", "text"),
    column("time", "expression", { unit: "min" }),
    column("slots", "number"),
    column("hours", "text"),
    column("x", "number", { unit: "m" }),
    column("y", "number", { unit: "m" }),
  ],
  rows,
});
const ROWS = [
  ["North", "exponential(4 min)", "1", "", "0", "0"],
  ["South", "exponential(6 min)", "2", "Mornings", "12", "3"],
  ["West", "uniform(2 min, 3 min)", "1", "", "24", "9"],
] as const;
const MORNINGS = {
  id: "mornings",
  name: "Mornings",
  rows: [{ days: [0, 1, 2, 3, 4, 5, 6], from: "00:00", to: "12:00", value: "2" }],
};

const errorsOf = (s: Study) =>
  compile(s)
    .problems.filter(({ severity }) => severity === "error")
    .map(({ message }) => message);
function figures(s: Study, replication = 1): Map<string, number> {
  const { program, problems } = compile(s);
  if (!program) throw new Error(problems.map((p) => `${p.message} ${p.path.join(".")}`).join("\n"));
  const result = run(program, { seed: 7, replication })!;
  if (result.failure) throw new Error(result.failure.message);
  return new Map(measuresOf(program).map((m, i) => [m.key, result.values[i]]));
}
const failureOf = (s: Study) => run(compile(s).program!, { seed: 1, replication: 1 })!.failure?.message;

/** The same figures, bit by bit, of what both have; and there is something of every owner that is named. */
function sameBits(a: Map<string, number>, b: Map<string, number>, owners: readonly string[]): void {
  const shared = [...a.keys()].filter((key) => b.has(key));
  for (const owner of owners) expect(shared.some((key) => key.startsWith(`${owner}/`))).toBe(true);
  expect(shared.filter((key) => !Object.is(a.get(key), b.get(key)))).toEqual([]);
}

/** Arrivals, a family of stations and departures, as the document says. */
function yard(parts: {
  family?: Loose;
  bay?: Loose;
  arrivals?: Loose;
  toFamily?: Loose;
  rows?: readonly (readonly string[])[];
  more?: Loose[];
  links?: Loose[];
  types?: Loose[];
  run?: Loose;
  study?: Loose;
}): Study {
  return study({
    run: { length: "20 h", ...parts.run },
    types: parts.types,
    elements: [
      { kind: "arrivals", id: "in", between: "exponential(2 min)", wayOut: "shortest line", ...parts.arrivals },
      { kind: "station", id: "bays", name: "Bays", time: "exponential(5 min)", family: { count: 3 }, ...parts.bay },
      { kind: "departures", id: "out" },
      ...(parts.more ?? []),
    ],
    links: parts.links ?? [
      { id: "to", from: "in", to: "bays", ...parts.toFamily },
      { id: "from", from: "bays", to: "out" },
    ],
    more: { tables: [bays(parts.rows ?? ROWS)], calendars: [MORNINGS], ...parts.study },
  });
}

const streamsFor = (streams: Readonly<Record<string, number>>, key: string) =>
  Object.fromEntries(Object.entries(streams).map(([setting, n]) => [setting, memberStream(n, key)]));

/** The yard written out by hand: an element for each key, with the streams that members have. */
function writtenOut(s: Study, keys: readonly string[], own: (key: string, i: number) => Loose): Study {
  const copy = JSON.parse(JSON.stringify(s)) as Study;
  const [design] = copy.designs as unknown as { elements: Loose[]; links: Loose[]; measures: Loose[] }[];
  const family = design.elements.find(({ id }) => id === "bays")!;
  const { family: _, ...plain } = family;
  const at = design.elements.indexOf(family);
  design.elements.splice(
    at,
    1,
    ...keys.map((key, i) => ({
      ...plain,
      id: `bays/${key}`,
      name: `Bay ${key}`,
      streams: streamsFor(family.streams as Record<string, number>, key),
      ...own(key, i),
    })),
  );
  design.links = design.links.flatMap((link) => {
    const { among: _among, member: _member, ...rest } = link;
    if (link.from !== "bays" && link.to !== "bays") return [link];
    return keys.map((key) => ({
      ...rest,
      id: `${String(link.id)}/${key}`,
      from: link.from === "bays" ? `bays/${key}` : link.from,
      to: link.to === "bays" ? `bays/${key}` : link.to,
      streams: streamsFor(link.streams as Record<string, number>, key),
    }));
  });
  design.measures = [{ kind: "group", id: "together", name: "Together", elements: keys.map((key) => `bays/${key}`) }];
  return assignStreams(copy);
}

describe("a family by count", () => {
  test("written out it gives the same bits, of each member and together", () => {
    const family = yard({});
    const byHand = writtenOut(family, ["1", "2", "3"], () => ({}));
    const [a, b] = [figures(family), figures(byHand)];
    sameBits(a, b, ["bays/1", "bays/2", "bays/3", "in", "out", "t1", "to/2", "from/3"]);
    const together = [...b.keys()].filter((key) => key.startsWith("together/"));
    expect(together.length).toBeGreaterThan(10);
    for (const key of together) expect(a.get(key.replace("together/", "bays/"))).toBe(b.get(key));
  });

  test("each member has its number, and lies where the family says", () => {
    const s = yard({
      bay: { capacity: "member", at: [100, 50], family: { count: 4, lies: "grid", step: [5, 7], across: 2 } },
    });
    const { nodes } = compile(s).model;
    const members = nodes.filter(({ member }) => member);
    expect(members.map(({ settings }) => settings.get("capacity")?.constant)).toEqual([1, 2, 3, 4]);
    expect(members.map(({ element }) => element.at)).toEqual([
      [100, 50],
      [105, 50],
      [100, 57],
      [105, 57],
    ]);
    expect(members.map(({ element }) => element.name)).toEqual(["Bays 1", "Bays 2", "Bays 3", "Bays 4"]);
  });
});

describe("a family of which each row of a table is a member", () => {
  const fromTable = (rows: readonly (readonly string[])[] = ROWS, more: Loose = {}) =>
    yard({
      rows,
      bay: {
        time: "row.time",
        capacity: "row.slots",
        family: { table: "bayTable", lies: "columns", x: "x", y: "y", columns: { calendar: "hours" } },
        ...more,
      },
    });

  test("written out with fixed settings it gives the same bits", () => {
    const family = fromTable();
    expect(errorsOf(family)).toEqual([]);
    const byHand = writtenOut(
      family,
      ROWS.map(([key]) => key),
      (_, i) => ({ time: ROWS[i][1], capacity: ROWS[i][2], calendar: ROWS[i][3] === "" ? "" : "mornings" }),
    );
    sameBits(figures(family), figures(byHand), ["bays/North", "bays/South", "bays/West", "t1"]);
    expect(figures(family).get("bays/South/state.offShift")).toBeGreaterThan(0.2);
    expect(figures(family).has("bays/North/state.offShift")).toBe(false);
  });

  test("members lie where columns say, in their unit, from the family's place", () => {
    const s = fromTable([...ROWS, ["East", "1 min", "1", "", "300 cm", "10 ft"]], { at: [2, 1] });
    const places = compile(s)
      .model.nodes.filter(({ member }) => member)
      .map(({ element }) => element.at);
    expect(places.slice(0, 3)).toEqual([
      [2, 1],
      [14, 4],
      [26, 10],
    ]);
    expect(places[3][0]).toBeCloseTo(5, 12);
    expect(places[3][1]).toBeCloseTo(1 + 3.048, 12);
  });

  test("a row put in the middle changes no draw of any other member", () => {
    // Each entity goes to the bay that its type names, so that what a bay gets does not depend on the others.
    const of = (rows: readonly (readonly string[])[]) =>
      yard({
        rows,
        types: [{ id: "t1", name: "Boat", attributes: [{ name: "bay", value: '"South"' }] }],
        toFamily: { among: "named", member: "Bays[entity.bay]" },
        bay: { time: "row.time", family: { table: "bayTable" } },
      });
    const [before, after] = [
      of(ROWS),
      of([ROWS[0], ["Middle", "exponential(1 min)", "1", "", "0", "0"], ROWS[1], ROWS[2]]),
    ];
    const [a, b] = [figures(before), figures(after)];
    // Together they are one more; by itself none has changed.
    for (const key of [...a.keys()].filter((k) => /^bays\/[^/]*$/.test(k))) a.delete(key);
    sameBits(a, b, ["bays/South", "bays/West", "out"]);
    expect(a.get("bays/South/done")).toBeGreaterThan(100);
    expect(b.has("bays/Middle/done")).toBe(true);
  });

  test("what is wrong is told once, at the family, with the member", () => {
    const rows = [...ROWS, ["North", "1 min", "none", "Nights", "", ""]];
    const { problems } = compile(fromTable(rows));
    const messages = problems.map(({ message }) => message);
    expect(messages).toEqual(
      expect.arrayContaining([
        expect.stringContaining("“North” stands twice in Bay list"),
        expect.stringContaining("nothing is called “Nights”"),
        expect.stringContaining("row 4 of Bay list does not say where its member lies"),
      ]),
    );
    const [wrong] = compile(yard({ bay: { time: "3 kg" } })).problems;
    expect(wrong.path.slice(0, 4)).toEqual(["designs", 0, "elements", 1]);
    expect(wrong.id).toBe("bays");
    expect(wrong.message).toContain("(3 members, 1 among them)");
    expect(compile(yard({ bay: { time: "3 kg" } })).problems.filter(({ field }) => field === "time")).toHaveLength(1);
  });

  test("a table or a column that is gone is told", () => {
    expect(errorsOf(yard({ bay: { family: { table: "gone" } } }))[0]).toContain(
      "the table of its members does not exist",
    );
    const s = fromTable(ROWS, { family: { table: "bayTable", columns: { calendar: "nowhere" } } });
    expect(errorsOf(s).join()).toContain("Bay list has no such column any more");
  });
});

describe("expressions on families", () => {
  const scope = () => {
    const s = yard({
      bay: { time: "row.time", family: { table: "bayTable" } },
      types: [
        {
          id: "t1",
          name: "Boat",
          attributes: [
            { name: "bay", value: '"West"' },
            { name: "nr", value: "2" },
          ],
        },
      ],
    });
    return expressionScopes(s, s.designs[0]).withEntity;
  };
  const check = (text: string) => {
    const result = checkExpression(text, scope());
    return result.ok ? result.checked : result.problems[0];
  };

  test("members are named by key, number or expression, and read as any element", () => {
    expect(check('Bays["South"]')).toMatchObject({ type: { kind: "element" }, constant: 2 });
    expect(check("Bays[3]")).toMatchObject({ constant: 3 });
    expect(check("Bays[entity.bay].queue.length")).toMatchObject({ type: { kind: "number" } });
    expect(check("Bays[entity.nr].busy > 0")).toMatchObject({ type: { kind: "yesNo" } });
    expect(check("Bays.members")).toMatchObject({ constant: 3 });
    // As a whole it stands behind the five elements.
    expect(check("Bays")).toMatchObject({ type: { kind: "element" }, constant: 5 });
  });

  test("a member that is not there is a problem at the key", () => {
    expect(check('Bays["Nowhere"].busy')).toMatchObject({
      message: 'Bays has no member "Nowhere".',
      start: 5,
      end: 14,
    });
    expect(check("Bays[4]")).toMatchObject({ message: "Bays has no member 4." });
    expect(check("Bays[1.5]")).toMatchObject({ message: "Bays has no member 1.5." });
    expect(check("Bays[2 min]")).toMatchObject({ message: expect.stringContaining("is asked by") as string });
    expect(check("Bays[1].speed")).toMatchObject({ message: 'There is no ".speed" here.' });
    expect(check("Bays[1, 2]")).toMatchObject({ message: "Bays wants one key or number in the brackets." });
  });

  test("one found missing while running ends the replication with the key and the place", () => {
    const s = yard({
      types: [{ id: "t1", name: "Boat", attributes: [{ name: "nr", value: "if(clock < 1 h, 1, 9)" }] }],
      toFamily: { among: "named", member: "Bays[entity.nr]" },
    });
    expect(failureOf(s)).toContain("Bays has no member 9.");
  });

  test("a family as a whole reads as the sum of its members", () => {
    const measure = (value: string, id: string) => ({ kind: "average", id, name: id, value });
    const measures = [
      measure("Bays.busy", "whole"),
      measure("Bays[1].busy + Bays[2].busy + Bays[3].busy", "parts"),
      measure("Bays.queue.length", "line"),
      measure("Bays[1].queue.length + Bays[2].queue.length + Bays[3].queue.length", "lines"),
    ];
    const s = yard({});
    const f = figures({ ...s, designs: [{ ...s.designs[0], measures } as unknown as Design] });
    expect(f.get("whole/mean")).toBe(f.get("parts/mean"));
    expect(f.get("line/mean")).toBe(f.get("lines/mean"));
    expect(f.get("whole/mean")).toBeGreaterThan(1);
    expect(f.get("line/mean")).toBeGreaterThan(0);
  });

  test("a gate that asks for a member by expression is told of every one", () => {
    // It opens whenever the bay named by the clock is idle: the bays take 5 min, one after the other.
    const s = study({
      run: { length: "3 h" },
      elements: [
        { kind: "arrivals", id: "in", between: "1 min" },
        { kind: "gate", id: "gate", opens: "condition", condition: "Bays[1].busy + Bays[2].busy = 0" },
        { kind: "station", id: "bays", name: "Bays", time: "5 min", family: { count: 2 } },
        { kind: "departures", id: "out" },
      ],
      links: [...chain("in", "gate"), { from: "gate", to: "bays", among: "in turn" }, { from: "bays", to: "out" }],
    });
    expect(errorsOf(s)).toEqual([]);
    const f = figures(s);
    expect(f.get("bays/1/done")! + f.get("bays/2/done")!).toBeGreaterThan(30);
  });
});

describe("a link to a family", () => {
  const done = (s: Study) => [1, 2, 3].map((i) => figures(s).get(`bays/${i}/done`)!);
  const fixed = (toFamily: Loose, more: Partial<Parameters<typeof yard>[0]> = {}) =>
    yard({
      arrivals: { between: "2 min", wayOut: "share" },
      bay: { time: "1 min" },
      toFamily,
      run: { length: "1 h" },
      ...more,
    });

  test("in turn: each member gets the same", () => {
    const [a, b, c] = done(fixed({ among: "in turn" }));
    expect(Math.max(a, b, c) - Math.min(a, b, c)).toBeLessThanOrEqual(1);
    expect(a + b + c).toBeGreaterThanOrEqual(29);
  });

  test("shortest line: the first that is empty", () => {
    const [a, b, c] = done(fixed({}));
    expect([b, c]).toEqual([0, 0]);
    expect(a).toBeGreaterThanOrEqual(29);
  });

  test("at random: members get equal shares, within the interval of a binomial", () => {
    const [a, b, c] = done(fixed({ among: "at random" }, { run: { length: "100 h" } }));
    const n = a + b + c;
    // 99.9 %: 3.29 standard deviations of a share of a third.
    for (const got of [a, b, c]) expect(Math.abs(got / n - 1 / 3)).toBeLessThan(3.29 * Math.sqrt(2 / 9 / n));
  });

  test("first free: who finds no room waits where it is, and takes the first that has", () => {
    const s = fixed({ among: "first free" }, { bay: { time: "7 min", room: "0" } });
    const byHand = writtenOut(s, ["1", "2", "3"], () => ({}));
    (byHand.designs[0].elements[0] as unknown as Loose).wayOut = "first free";
    sameBits(figures(s), figures(byHand), ["bays/1", "bays/2", "bays/3", "in", "t1"]);
  });

  test("named: the member of each entity, by key, number or its own reckoning", () => {
    const s = fixed(
      { among: "named", member: "Bays[entity.nr]" },
      { types: [{ id: "t1", name: "Boat", attributes: [{ name: "nr", value: "uniformInteger(1, 2)" }] }] },
    );
    const [a, b, c] = done(s);
    expect(c).toBe(0);
    expect(Math.min(a, b)).toBeGreaterThan(5);
  });

  test("several links: one is chosen by share, then a member", () => {
    const s = yard({
      arrivals: { wayOut: "share" },
      more: [{ kind: "station", id: "yard", name: "Yard", time: "1 min" }],
      links: [
        { id: "a", from: "in", to: "bays", share: "75 %", among: "in turn" },
        { id: "b", from: "in", to: "yard", share: "25 %" },
        { id: "c", from: "bays", to: "out" },
        { id: "d", from: "yard", to: "out" },
      ],
      run: { length: "400 h" },
    });
    expect(errorsOf(s)).toEqual([]);
    const f = figures(s);
    const members = [1, 2, 3].map((i) => f.get(`bays/${i}/done`)!);
    const all = members.reduce((sum, n) => sum + n, 0);
    const n = all + f.get("yard/done")!;
    expect(Math.abs(all / n - 0.75)).toBeLessThan(3.29 * Math.sqrt((0.75 * 0.25) / n));
    expect(Math.max(...members) - Math.min(...members)).toBeLessThan(12);
  });

  test("the same: members of two families go to their like alone", () => {
    const s = study({
      run: { length: "10 h" },
      elements: [
        { kind: "arrivals", id: "in", between: "exponential(3 min)" },
        { kind: "station", id: "bays", name: "Bays", time: "1 min", family: { count: 3 } },
        { kind: "station", id: "docks", name: "Docks", time: "1 min", family: { count: 3 } },
        { kind: "departures", id: "out" },
      ],
      links: [
        { from: "in", to: "bays", among: "in turn" },
        { from: "bays", to: "docks", among: "same" },
        { from: "docks", to: "out" },
      ],
    });
    const { ways } = compile(s).model;
    expect(ways.filter(({ link }) => link.id.startsWith("l1/")).map(({ link }) => [link.from, link.to])).toEqual([
      ["bays/1", "docks/1"],
      ["bays/2", "docks/2"],
      ["bays/3", "docks/3"],
    ]);
    const f = figures(s);
    for (const i of [1, 2, 3]) expect(f.get(`l1/${i}/${i}/passed`)).toBe(f.get(`bays/${i}/done`));
  });

  test("what cannot be is told: first free beside others, and a member named where places are looked at", () => {
    const links = (more: Loose) => [
      { from: "in", to: "bays", ...more },
      { from: "in", to: "yard" },
      { from: "bays", to: "out" },
      { from: "yard", to: "out" },
    ];
    const more = [{ kind: "station", id: "yard", name: "Yard", time: "1 min" }];
    const free = yard({ arrivals: { wayOut: "in turn" }, more, links: links({ among: "first free" }) });
    expect(errorsOf(free).join()).toContain("leads to the first free member of a family, and it has other links too");
    const named = yard({ more, links: links({ among: "named", member: "Bays[1]" }) });
    expect(errorsOf(named).join()).toContain("looks at every member itself");
  });
});

test("a route leads to a family, of which the link chooses a member", () => {
  const s = study({
    run: { length: "8 h" },
    elements: [
      { kind: "arrivals", id: "in", between: "5 min", wayOut: "route" },
      { kind: "station", id: "bays", name: "Bays", time: "4 min", wayOut: "route", family: { count: 2 } },
      { kind: "station", id: "paint", name: "Paint", time: "2 min", wayOut: "route" },
      { kind: "departures", id: "out" },
    ],
    links: [
      { from: "in", to: "bays", among: "in turn" },
      { from: "bays", to: "paint" },
      { from: "paint", to: "bays", among: "in turn" },
      { from: "bays", to: "out" },
      { from: "paint", to: "out" },
    ],
    more: {
      tables: [
        {
          id: "route",
          name: "Route",
          route: true,
          columns: [column("next", "element")],
          rows: [["Bays"], ["Paint"], ["Bays"]],
        },
      ],
    },
  });
  expect(errorsOf(s)).toEqual([]);
  const f = figures(s);
  const done = f.get("bays/1/done")! + f.get("bays/2/done")!;
  const painted = f.get("paint/done")!;
  expect(painted).toBeGreaterThan(90);
  expect(done - 2 * f.get("t1/departed")!).toBeLessThanOrEqual(2);
  expect(Math.abs(f.get("bays/1/done")! - f.get("bays/2/done")!)).toBeLessThanOrEqual(2);
  const { model } = compile(s);
  expect(phraseText(readBack(model.nodes[0], model))).toContain("Of Bays it is the one whose turn it is.");
});

test("a need of a family takes any of its members", () => {
  const s = study({
    run: { length: "10 h" },
    elements: [
      { kind: "arrivals", id: "in", between: "1 min" },
      {
        kind: "station",
        id: "work",
        time: "3 min",
        capacity: "4",
        needs: [{ id: "n", anyOf: ["riggers"], phases: ["work"] }],
      },
      { kind: "departures", id: "out" },
      { kind: "crew", id: "riggers", name: "Riggers", count: "1", family: { count: 2 } },
    ],
    links: chain("in", "work", "out"),
  });
  expect(errorsOf(s)).toEqual([]);
  const f = figures(s);
  // Two of them at three minutes a job are busy all the time.
  expect(f.get("riggers/1/utilization")).toBeGreaterThan(0.99);
  expect(f.get("riggers/2/utilization")).toBeGreaterThan(0.99);
  expect(f.get("work/done")).toBeGreaterThan(390);
});

test("streams: the family's is told once, and what is said of it holds for every member", () => {
  const s = yard({});
  const sources = randomSources(compile(s).model).filter(({ id }) => id === "bays");
  expect(sources.map(({ field }) => field)).toEqual(["time"]);
  const [{ stream, path }] = sources;
  expect(path.slice(0, 4)).toEqual(["designs", 0, "elements", 1]);
  const again = { ...s, streams: [{ stream, name: "Bays", seed: 99, again: false }] } as Study;
  const seeds = [3, 4].map((seed) => run(compile(again).program!, { seed, replication: 1 })!.values.length);
  expect(seeds[0]).toBe(seeds[1]);
  expect(figures(again).get("bays/1/done")).not.toBe(figures(s).get("bays/1/done"));
});

test("who reads a table is told once, at the family", () => {
  const s = yard({ bay: { time: "row.time", family: { table: "bayTable" } } });
  const readers = readersOf("bayTable", compile(s).model).filter(({ id }) => id === "bays");
  expect(readers.map(({ field }) => field)).toEqual(["time"]);
});

test("five hundred members compile", () => {
  const rows = Array.from({ length: 500 }, (_, i) => [`B${i}`, `${1 + (i % 9)} min`, "1", "", String(i), "0"]);
  const s = yard({ rows, bay: { time: "row.time", family: { table: "bayTable" } } });
  const { program, model } = compile(s);
  expect(program).toBeDefined();
  expect(model.nodes).toHaveLength(502);
});

describe("entity types from a table", () => {
  const boats = (rows: readonly (readonly string[])[]) => ({
    id: "boats",
    name: "Boats",
    key: "kind",
    columns: [
      column("kind", "entity type"),
      column("share", "number"),
      column("length", "number", { unit: "m" }),
      column("work", "expression", { unit: "min" }),
      column("colour", "text"),
    ],
    rows,
  });
  const KINDS = [
    ["Dinghy", "3", "4", "exponential(5 min)", "#112233"],
    ["Cutter", "1", "11", "8 min", ""],
  ];
  const harbour = (rows: readonly (readonly string[])[] = KINDS, more: Loose = {}) =>
    study({
      run: { length: "40 h" },
      types: [
        {
          id: "boat",
          name: "Boat",
          attributes: [{ name: "length", value: "row.length" }],
          family: { table: "boats", colour: "colour" },
          ...more,
        },
      ],
      elements: [
        {
          kind: "arrivals",
          id: "in",
          between: "exponential(10 min)",
          entityType: "boat",
          table: "boats",
          takes: "at random",
          weight: "row.share",
          typeOf: "row.kind",
        },
        { kind: "station", id: "work", time: "Boats[entity.type].work" },
        { kind: "departures", id: "out" },
      ],
      links: chain("in", "work", "out"),
      more: { tables: [boats(rows)] },
    });

  test("there is one for each row, by its key, with its own attributes and colour", () => {
    const s = harbour();
    expect(errorsOf(s)).toEqual([]);
    const { types } = compile(s).model;
    expect(types.map(({ type }) => [type.id, type.name, type.colour])).toEqual([
      ["boat/Dinghy", "Dinghy", "#112233"],
      ["boat/Cutter", "Cutter", "#0B6E8A"],
    ]);
    expect(types.map(({ attributes }) => attributes[0].value.constant)).toEqual([4, 11]);
  });

  test("written out it gives the same bits", () => {
    const s = harbour();
    const byHand = JSON.parse(JSON.stringify(s)) as Study;
    const design = byHand.designs[0] as unknown as { entityTypes: Loose[]; elements: Loose[] };
    const [{ family: _family, ...plain }] = design.entityTypes;
    design.entityTypes = KINDS.map(([kind, , length]) => ({
      ...plain,
      id: `boat/${kind}`,
      name: kind,
      attributes: [{ name: "length", value: `${length} m` }],
      streams: streamsFor(plain.streams as Record<string, number>, kind),
    }));
    design.elements[0].entityType = "boat/Dinghy";
    sameBits(figures(s), figures(byHand), ["boat/Dinghy", "boat/Cutter", "work", "in"]);
    expect(figures(s).get("boat/Dinghy/departed")).toBeGreaterThan(100);
  });

  test("a third kind takes one more row, and nothing else", () => {
    const s = harbour([...KINDS, ["Yawl", "2", "9", "2 min", ""]]);
    expect(errorsOf(s)).toEqual([]);
    expect(figures(s).get("boat/Yawl/departed")).toBeGreaterThan(30);
  });

  test("a key that is taken, a colour that is none and a table that is gone are told", () => {
    const messages = errorsOf(harbour([...KINDS, ["work", "1", "1", "1 min", "red"]])).join("\n");
    expect(messages).toContain("“work” reads the same as another name of this design");
    expect(messages).toContain("“red” is no colour");
    expect(errorsOf(harbour(KINDS, { family: { table: "gone" } })).join()).toContain(
      "the table of its rows does not exist",
    );
  });

  test("a slip in an attribute is told once, at the type of the document", () => {
    const { problems } = compile(harbour(KINDS, { attributes: [{ name: "length", value: "row.lenght" }] }));
    const [found, ...more] = problems.filter(({ path }) => path.includes("attributes"));
    expect(more).toEqual([]);
    expect(found).toMatchObject({ id: "boat", path: ["designs", 0, "entityTypes", 0, "attributes", 0, "value"] });
    expect(found.message).toContain('has no column "lenght"');
  });
});

describe("the hull workshop", () => {
  const workshop = (): Study => {
    const read = readStudyText(readFileSync(join(__dirname, "../../demo/hull-workshop.json"), "utf8"));
    if (!read.ok) throw new Error(JSON.stringify(read.problems));
    return read.study;
  };
  const short = (s: Study): Study => ({ ...s, run: { ...s.run, length: "30 d", warmUp: "0 h" } });

  test("its kinds and its mix written out by hand, it gives the same bits", () => {
    const s = short(workshop());
    const byHand = JSON.parse(JSON.stringify(s)) as Study;
    byHand.designs.length = 1;
    const design = byHand.designs[0] as unknown as { entityTypes: Loose[]; elements: Loose[] };
    const [{ family: _family, ...plain }] = design.entityTypes;
    const kinds = byHand.tables.find(({ id }) => id === "boats")!.rows;
    design.entityTypes = kinds.map(([kind, , length]) => ({
      ...plain,
      id: `boat/${kind}`,
      name: kind,
      attributes: [{ name: "length", value: `${length} m` }],
      streams: streamsFor(plain.streams as Record<string, number>, kind),
    }));
    const slip = design.elements.find(({ kind }) => kind === "arrivals")!;
    slip.table = "";
    slip.entityType = "boat/Dinghy";
    slip.mix = kinds.map(([kind, share], i) => ({ id: `k${i}`, entityType: `boat/${kind}`, share }));
    const [a, b] = [figures(s), figures(byHand)];
    sameBits(a, b, [...kinds.map(([kind]) => `boat/${kind}`), "slip"]);
    expect([...a.keys()].sort()).toEqual([...b.keys()].sort());
    expect(a.get("boat/Dinghy/departed")).toBeGreaterThan(5);
  });

  test("a fifth kind takes rows in two tables, and nothing else", () => {
    const s = short(workshop());
    const more = JSON.parse(JSON.stringify(s)) as Study;
    more.tables.find(({ id }) => id === "boats")!.rows.push(["Punt", "0.3", "5"]);
    const steps = more.tables.find(({ id }) => id === "steps")!;
    steps.rows.push(...steps.rows.filter(([kind]) => kind === "Dinghy").map((cells) => ["Punt", ...cells.slice(1)]));
    expect(errorsOf(more)).toEqual([]);
    const f = figures(more);
    expect(f.get("boat/Punt/departed")).toBeGreaterThan(3);
    expect(figures(s).has("boat/Punt/departed")).toBe(false);
    expect(routeSentences(compile(more).model)).toContainEqual(
      expect.stringMatching(/^Punt: Survey, Fairing bay, Painting bay,/),
    );
  });
});
