import { readFileSync } from "node:fs";
import { join } from "node:path";
import {
  compile,
  fingerprint,
  phraseText,
  readBack,
  readStudyText,
  studyJsonSchema,
  writeStudy,
} from "../src/index.ts";
import { chain, study } from "./build.ts";

const demo = readFileSync(join(__dirname, "../../demo/foot-passengers.json"), "utf8");
const read = (text: string) => {
  const result = readStudyText(text);
  if (!result.ok) throw new Error(JSON.stringify(result.problems));
  return result.study;
};
const small = study({
  elements: [
    { id: "in", kind: "arrivals" },
    { id: "s", kind: "station", name: "Desk" },
    { id: "out", kind: "departures" },
  ],
  links: chain("in", "s", "out"),
});

test("a study file written again is the same text", () => {
  expect(writeStudy(read(demo))).toBe(demo);
});

test("keys in another order, or defaults left out, give the same text", () => {
  const shuffle = (value: unknown): unknown =>
    Array.isArray(value)
      ? value.map(shuffle)
      : value && typeof value === "object"
        ? Object.fromEntries(
            Object.entries(value)
              .reverse()
              .map(([k, v]) => [k, shuffle(v)]),
          )
        : value;
  expect(writeStudy(read(JSON.stringify(shuffle(JSON.parse(demo)))))).toBe(demo);
  expect(small.run).toMatchObject({ length: "8 h", replications: 20, level: 0.95 });
});

test("one changed setting changes one line", () => {
  const changed = read(demo.replace('"capacity": "3"', '"capacity": "4"'));
  const [a, b] = [demo.split("\n"), writeStudy(changed).split("\n")];
  expect(b.filter((line, i) => line !== a[i])).toHaveLength(1);
});

test("every place that draws has a stream of its own, kept in copies of the design", () => {
  const streams = small.designs[0].elements
    .flatMap((e) => Object.values(e.streams))
    .concat(
      small.designs[0].links.flatMap((l) => Object.values(l.streams)),
      small.designs[0].entityTypes.flatMap((t) => Object.values(t.streams)),
    );
  expect(new Set(streams).size).toBe(streams.length);
  const { designs } = read(demo);
  const gate = designs.map((d) => d.elements.find((e) => e.id === "gate")!.streams);
  expect(gate[0]).toEqual(gate[1]);
});

test("the fingerprint follows what changes numbers, and nothing else", () => {
  const [design] = small.designs;
  const print = fingerprint(design, small.run);
  expect(fingerprint({ ...design, name: "Other", note: "x" }, { ...small.run, replications: 99, level: 0.9 })).toBe(
    print,
  );
  expect(fingerprint(design, { ...small.run, seed: 2 })).not.toBe(print);
  const at = (i: number, change: object) => ({
    ...design,
    elements: design.elements.map((e, n) => (n === i ? ({ ...e, ...change } as typeof e) : e)),
  });
  design.elements.forEach((e, i) => {
    expect([e.id, fingerprint(at(i, { at: [99, 7] }), small.run) !== print]).toEqual([e.id, true]);
    expect([
      e.id,
      fingerprint(at(i, { streams: { ...e.streams, time: 77, between: 77 } }), small.run) !== print,
    ]).toEqual([e.id, true]);
    if (e.kind === "station") expect(fingerprint(at(i, { patience: "3 min" }), small.run)).not.toBe(print);
  });
  // What a later version adds, at its default and with a stream that is not drawn from, puts no older run out of date.
  const later = ["order", "rank", "balk", "patience"];
  const without = (item: object) => Object.fromEntries(Object.entries(item).filter(([key]) => !later.includes(key)));
  const older = {
    ...design,
    elements: design.elements.map((e) => ({ ...without(e), streams: without(e.streams) }) as typeof e),
  };
  expect(fingerprint(older, small.run)).toBe(print);
  expect(
    fingerprint(
      {
        ...design,
        elements: design.elements.map((e) =>
          e.kind === "station" ? { ...e, streams: { ...e.streams, patience: 5 } } : e,
        ),
      },
      small.run,
    ),
  ).toBe(print);
  expect(fingerprint({ ...design, links: [] }, small.run)).not.toBe(print);
});

test("the JSON Schema describes the file and names its defaults", () => {
  const schema = studyJsonSchema() as { $schema: string; required: string[]; properties: Record<string, unknown> };
  expect(schema.$schema).toContain("2020-12");
  expect(schema.required).toEqual(expect.arrayContaining(["format", "version", "name", "designs"]));
  expect(schema.required).not.toContain("run");
});

test("each design of the demo compiles, and says in words what it does", () => {
  for (const design of read(demo).designs) {
    const { model, problems } = compile(read(demo), design.id);
    expect(problems).toEqual([]);
    for (const node of model.nodes) expect(phraseText(readBack(node, model))).toMatch(/\.$/);
  }
  const { model } = compile(read(demo), "shared");
  const desks = model.nodes.find((n) => n.element.id === "desks")!;
  expect(phraseText(readBack(desks, model))).toBe(
    "Takes entities from Ticket line, first come first served. 3 at once, if(entity.type is Visitor, 1.5, 1) * triangular(40 s, 70 s, 150 s) each. It has no line of its own; who finds it full waits at the place before. Then on to Gangway.",
  );
});

describe("what is taken can be kept and run", () => {
  const problemsOf = (
    change: (data: {
      name: string;
      designs: { id: string; name: string; elements: { name: string; streams: Record<string, number> }[] }[];
    }) => void,
  ) => {
    const data = JSON.parse(JSON.stringify(small)) as Parameters<typeof change>[0];
    change(data);
    const result = readStudyText(JSON.stringify(data));
    return result.ok ? [] : result.problems.map(({ code, path }) => [code, path]);
  };
  test("two designs with one id are a problem of the second", () => {
    expect(problemsOf((d) => d.designs.push({ ...d.designs[0], name: "Other" }))).toEqual([
      ["duplicate-id", ["designs", 1, "id"]],
    ]);
  });
  test("characters that cannot be kept are a problem where they stand", () => {
    expect(problemsOf((d) => (d.designs[0].elements[1].name = "De\u0000sk"))).toEqual([
      ["unkeepable-text", ["designs", 0, "elements", 1, "name"]],
    ]);
    expect(problemsOf((d) => (d.name = "half \ud800 of one"))).toEqual([["unkeepable-text", ["name"]]]);
    expect(problemsOf((d) => (d.name = "a whole \u{1F6A2}"))).toEqual([]);
  });
  test("streams are given out below the largest number there is, each once", () => {
    const data = JSON.parse(JSON.stringify(small)) as typeof small;
    data.designs[0].elements[0].streams.between = 1_000_000_000;
    delete data.designs[0].elements[1].streams.time;
    const again = read(JSON.stringify(data));
    const given = again.designs[0].elements.flatMap((e) => Object.values(e.streams));
    expect(Math.max(...given)).toBe(1_000_000_000);
    expect(new Set(given).size).toBe(given.length);
    expect(read(writeStudy(again))).toEqual(again);
  });
});
