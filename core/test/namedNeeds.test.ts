import { compile, fingerprint, phraseText, readBack, run, type Study, measuresOf } from "../src/index.ts";
import { study } from "./study.ts";

type Loose = Record<string, unknown>;
const TEAMS = {
  id: "teams",
  name: "Teams",
  key: "team",
  columns: [
    { id: "team", name: "team", holds: "text" },
    { id: "count", name: "count" },
  ],
  rows: [
    ["North", "1"],
    ["South", "1"],
  ],
};
/**
 * A station of five slots that needs one crew of a family of two; jobs come at once, and each has the team that its
 * type says.
 */
const yard = (
  which: string,
  parts: { jobs?: readonly (readonly [string, number])[]; crews?: Loose; need?: Loose } = {},
): Study =>
  study({
    types: ["North", "South"].map((team) => ({
      id: team,
      name: `For ${team}`,
      attributes: [{ name: "team", value: `"${team}"` }],
    })),
    elements: [
      ...(
        parts.jobs ?? [
          ["North", 3],
          ["South", 1],
        ]
      ).map(([team, count], i) => ({
        id: `in${i}`,
        kind: "arrivals",
        by: "list",
        listed: "0 min",
        group: String(count),
        entityType: team,
      })),
      {
        id: "s",
        name: "Berth",
        kind: "station",
        capacity: "5",
        time: "10 min",
        needs: [{ id: "n", anyOf: ["crews"], which, ...parts.need }],
      },
      { id: "crews", name: "Crews", kind: "crew", count: "1", family: { table: "teams" }, ...parts.crews },
      { id: "out", kind: "departures" },
    ],
    links: [...(parts.jobs ?? [0, 1]).map((_, i) => ({ from: `in${i}`, to: "s" })), { from: "s", to: "out" }],
    run: { length: "2 h" },
    more: { tables: [TEAMS] },
  });
const figures = (of: Study) => {
  const { program, problems } = compile(of);
  if (!program) throw new Error(problems.map((p) => p.message).join("\n"));
  const result = run(program, { seed: 1, replication: 1 })!;
  return {
    failure: result.failure,
    value: (key: string) => {
      const at = measuresOf(program).findIndex((m) => m.key === key);
      if (at < 0)
        throw new Error(
          `There is no ${key}: ${measuresOf(program)
            .map((m) => m.key)
            .join(" ")}`,
        );
      return result.values[at];
    },
  };
};

test("a need of the one that an expression names waits for that one, though another is free", () => {
  const { value, failure } = figures(yard("Crews[entity.team]"));
  expect(failure).toBeUndefined();
  // Three wait for one crew, 10 min each; the other crew works once.
  expect(value("North/timeInSystem.mean")).toBeCloseTo((10 + 20 + 30) * 20, 9);
  expect(value("South/timeInSystem.mean")).toBeCloseTo(600, 9);
  expect(value("crews/North/state.busy")).toBeCloseTo(30 / 120, 12);
  expect(value("crews/South/state.busy")).toBeCloseTo(10 / 120, 12);
  // Left open, any crew will do: four jobs, two at a time.
  const any = figures(yard(""));
  expect(any.value("crews/North/state.busy")).toBeCloseTo(20 / 120, 12);
  expect(any.value("crews/South/state.busy")).toBeCloseTo(20 / 120, 12);
});

test("it is one of several alternatives, by number or by name, and more than one unit may be asked of it", () => {
  const s = yard('if(entity.team = "North", Crews[1], Crews[2])', { need: { count: "2" }, crews: { count: "2" } });
  const { value } = figures(s);
  expect(value("North/timeInSystem.mean")).toBeCloseTo(1200, 9);
  expect(value("South/timeInSystem.mean")).toBeCloseTo(600, 9);
});

test("what a claim was for is kept while it waits, also when its units are taken away and given back", () => {
  const s = yard("Crews[entity.team]", {
    jobs: [
      ["North", 1],
      ["South", 1],
    ],
    crews: { preempt: true },
  });
  const [design] = s.designs as unknown as { elements: Loose[]; links: Loose[] }[];
  const urgent = structuredClone(design.elements.find(({ id }) => id === "in0")!);
  design.elements.push({ ...urgent, id: "late", name: "late", listed: "4 min" });
  design.links.push({ ...structuredClone(design.links[0]), id: "lateLink", from: "late" });
  (design.elements.find(({ id }) => id === "s") as Loose).priority = "clock / 1 min";
  const { value, failure } = figures(s);
  expect(failure).toBeUndefined();
  // The crew of the north leaves the first at 4 min for the urgent one until 14 min, and comes back for 6 min.
  expect(value("North/timeInSystem.max")).toBeCloseTo(20 * 60, 9);
  expect(value("South/timeInSystem.max")).toBeCloseTo(600, 9);
});

test("one that is none of those needed ends the replication by name; what is no element is told before", () => {
  const wrong = figures(yard('if(entity.team = "South", Out, Crews[1])', {}));
  expect(wrong.failure?.code).toBe("no-such-resource");
  expect(wrong.failure?.message).toContain("Berth");
  const told = compile(yard("entity.team")).problems.map(({ message, field }) => `${field}: ${message}`);
  expect(told).toEqual([expect.stringContaining("needs.n.which: Which one: This is text; an element is wanted.")]);
});

test("it is told in the sentence of the station, and a need left open is the need of before to a run", () => {
  const of = (s: Study) => {
    const { model } = compile(s);
    return phraseText(
      readBack(
        model.nodes.find(({ element }) => element.id === "s")!,
        model,
      ),
    );
  };
  expect(of(yard("Crews[entity.team]"))).toContain("it needs 1 of Crews[entity.team], one of Crews");
  const before = yard("");
  const print = fingerprint(before.designs[0], before.run, before);
  const [design] = JSON.parse(JSON.stringify(before.designs)) as Study["designs"];
  const station = design.elements.find(({ id }) => id === "s") as unknown as { needs: { which?: string }[] };
  delete station.needs[0].which;
  expect(fingerprint(design, before.run, before)).toBe(print);
  const named = yard("Crews[1]");
  expect(fingerprint(named.designs[0], named.run, named)).not.toBe(print);
});
