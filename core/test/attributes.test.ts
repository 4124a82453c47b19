import { compile, run, measuresOf } from "../src/index.ts";
import { chain, measures, program, study } from "./build.ts";

type Loose = Record<string, unknown>;
const out = { id: "out", kind: "departures" };
const crate = { id: "t1", name: "Crate", attributes: [{ name: "size", value: "5" }] };
const barrel = { id: "t2", name: "Barrel" };
const into = (id: string, entityType: string, more: Loose = {}) => ({
  id,
  kind: "arrivals",
  entityType,
  between: "10 s",
  ...more,
});
const problems = (elements: Loose[], links: Loose[], types: Loose[] = [crate, barrel]) =>
  compile(study({ elements: [...elements, out], links, types })).problems.map(({ code, id, field, message }) => ({
    code,
    id,
    field,
    message,
  }));
const found = (id: string, field: string, message: string) => [
  { code: "attribute-of-other-type", id, field, message: expect.stringContaining(message) },
];
const reader = (more: Loose = {}) => ({ id: "s", kind: "station", time: "entity.size * 1 s + 1 s", ...more });

test("a type without it comes by a link, or past a queue and a dwell", () => {
  expect(problems([into("in", "t2"), reader()], chain("in", "s", "out"))).toEqual(
    found("s", "time", "Barrel can come here and has no size"),
  );
  expect(
    problems(
      [into("a", "t1"), into("b", "t2"), { id: "q", kind: "queue" }, { id: "d", kind: "dwell" }, reader()],
      [...chain("a", "q", "d", "s", "out"), ...chain("b", "q")],
    ),
  ).toEqual(found("s", "time", "Barrel"));
  expect(
    problems([into("a", "t1"), into("b", "t2"), reader()], [...chain("a", "s", "out"), ...chain("b", "out")]),
  ).toEqual([]);
});

test("a mix brings it, or those who are there at the start, or who are turned away", () => {
  const mix = [
    { id: "m1", entityType: "t1" },
    { id: "m2", entityType: "t2" },
  ];
  expect(problems([into("in", "", { mix }), reader()], chain("in", "s", "out"))).toEqual(found("s", "time", "Barrel"));
  expect(
    problems([into("in", "t1"), reader({ initial: [{ id: "i", entityType: "t2" }] })], chain("in", "s", "out")),
  ).toEqual(found("s", "time", "Barrel"));
  const full = { id: "f", kind: "station", room: "0", whenFull: "lose" };
  expect(
    problems(
      [into("a", "t1"), into("b", "t2"), full, reader()],
      [
        ...chain("a", "f", "out"),
        ...chain("b", "f"),
        { from: "f", to: "s", takes: "turned away" },
        ...chain("s", "out"),
      ],
    ),
  ).toEqual(found("s", "time", "Barrel"));
});

test("a test of the type leaves it out, in every form", () => {
  const two = [into("a", "t1"), into("b", "t2")];
  const links = [...chain("a", "s", "out"), ...chain("b", "s")];
  for (const time of [
    "if(entity.type is Crate, entity.size * 1 s, 1 s)",
    "if(entity.type <> Crate, 1 s, entity.size * 1 s)",
    "if(not (entity.type is Crate), 1 s, entity.size * 1 s)",
    "if(entity.type is Crate and entity.size > 3, 5 s, 1 s)",
    "if(Barrel = entity.type or entity.size < 3, 1 s, 5 s)",
    "if(entity.type is Barrel, 1 s, if(clock > 1 h, entity.size, 2) * 1 s)",
  ])
    expect(problems([...two, reader({ time })], links)).toEqual([]);
  for (const time of [
    "if(entity.type is Barrel, entity.size * 1 s, 1 s)",
    "if(entity.type is Crate or entity.size > 3, 5 s, 1 s)",
    "if(clock > 1 h, entity.size * 1 s, 1 s)",
    "if(entity.type is Crate, 1 s, 2 s) * entity.size",
  ])
    expect(problems([...two, reader({ time })], links)).toEqual(found("s", "time", "Barrel"));
});

test("ways out by a condition or a name are followed by the type", () => {
  const two = [
    into("a", "t1"),
    into("b", "t2"),
    { id: "j", kind: "junction", wayOut: "condition" },
    reader(),
    { id: "d", kind: "dwell" },
  ];
  const links = (condition: string) => [
    ...chain("a", "j"),
    ...chain("b", "j"),
    { from: "j", to: "s", condition },
    ...chain("j", "d"),
    ...chain("s", "out"),
    ...chain("d", "out"),
  ];
  expect(problems(two, links("entity.type is Crate"))).toEqual([]);
  expect(problems(two, links("entity.type is Crate and clock > 1 h"))).toEqual([]);
  expect(problems(two, links("clock > 1 h"))).toEqual(found("s", "time", "Barrel"));
  // The condition itself is asked of both.
  expect(problems(two, links("entity.size > 3")).map((p) => [p.id, p.field])).toEqual([
    ["s", "time"],
    ["l2", "condition"],
  ]);
  const named = [
    into("a", "t1"),
    into("b", "t2"),
    { id: "j", kind: "junction", wayOut: "named", destination: "if(entity.type is Crate, s, d)" },
    reader(),
    { id: "d", kind: "dwell" },
  ];
  expect(problems(named, links(""))).toEqual([]);
  expect(
    problems(
      [
        { ...into("a", "t1") },
        into("b", "t2"),
        { id: "j", kind: "junction", wayOut: "named", destination: "if(clock < 1 h, s, d)" },
        reader(),
        { id: "d", kind: "dwell" },
      ],
      links(""),
    ),
  ).toEqual(found("s", "time", "Barrel"));
});

describe("through joins and splits", () => {
  const pallet = { id: "t3", name: "Pallet" };
  const types = [crate, barrel, pallet];
  const undone = (more: Loose = {}) => [
    into("in", "t1"),
    { id: "j", kind: "join", keeps: "to be undone", makes: "t3", ...more },
    { id: "u", kind: "split", does: "undo" },
  ];
  test("what is made by a join", () => {
    expect(
      problems([into("in", "t1"), { id: "j", kind: "join", makes: "t2" }, reader()], chain("in", "j", "s", "out")),
    ).toEqual(found("s", "time", "Barrel"));
    expect(
      problems([into("in", "t2"), { id: "j", kind: "join", makes: "t1" }, reader()], chain("in", "j", "s", "out")),
    ).toEqual([]);
    expect(
      problems(
        [
          into("in", "t1"),
          into("b", "t2"),
          { id: "j", kind: "join", gathers: "onto a carrier", carrier: "t1" },
          reader(),
        ],
        [...chain("in", "j", "s", "out"), ...chain("b", "j")],
      ),
    ).toEqual([]);
    // How many go onto a carrier is read of the carrier; what they are to be equal in, of all.
    const onto = (more: Loose) =>
      problems(
        [
          into("in", "t1"),
          into("b", "t2"),
          { id: "j", kind: "join", gathers: "onto a carrier", carrier: "t1", ...more },
        ],
        [...chain("in", "j", "out"), ...chain("b", "j")],
      );
    expect([onto({ count: "entity.size" }), onto({ match: "entity.size" })]).toEqual([
      [],
      found("j", "match", "Barrel"),
    ]);
  });
  test("what a split sets free, and not what was only made to hold it", () => {
    expect(problems([...undone(), reader()], chain("in", "j", "u", "s", "out"), types)).toEqual([]);
    expect(problems([...undone(), reader()], chain("in", "j", "s", "u", "out"), types)).toEqual(
      found("s", "time", "Pallet"),
    );
    expect(
      problems(
        [...undone(), into("b", "t2"), reader()],
        [...chain("in", "j", "u", "s", "out"), ...chain("b", "j")],
        types,
      ),
    ).toEqual(found("s", "time", "Barrel"));
  });
  test("copies and pieces, by a way of their own", () => {
    const cut = { id: "c", kind: "split", does: "cut", makes: "t2" };
    expect(problems([into("in", "t1"), cut, reader()], chain("in", "c", "s", "out"))).toEqual(
      found("s", "time", "Barrel"),
    );
    const copy = { id: "c", kind: "split", does: "copy", makes: "t2" };
    expect(
      problems(
        [into("in", "t1"), copy, reader()],
        [...chain("in", "c", "s", "out"), { from: "c", to: "out", takes: "parts" }],
      ),
    ).toEqual([]);
  });
});

test("every setting that may read the entity is looked at, of elements, links and types", () => {
  const s = reader({
    time: "1 s",
    setup: "entity.size * 1 s",
    priority: "entity.size",
    rework: "entity.size > 9",
    balk: "entity.size > 3",
    patience: "entity.size * 1 h",
    order: "smallest first",
    rank: "entity.size",
    setupWhen: "on change",
    setupBy: "entity.size",
    needs: [{ id: "n", anyOf: ["h"], count: "entity.size" }],
    teardown: "entity.size * 1 s",
    batchLeast: "2",
    batchMost: "2",
    batchWait: "entity.size * 1 s",
    changeovers: [{ id: "c", time: "entity.size * 1 s" }],
  });
  const all = problems(
    [
      into("in", "t2"),
      s,
      { id: "h", kind: "crew", count: "9" },
      { id: "g", kind: "gate", condition: "entity.size > 1" },
    ],
    [{ from: "in", to: "s", kind: "timed", time: "entity.size * 1 s" }, ...chain("s", "g", "out")],
  );
  expect(all.every((p) => p.code === "attribute-of-other-type")).toBe(true);
  expect(all.map((p) => p.field).sort()).toEqual([
    "balk",
    "batchWait",
    "changeovers.c.time",
    "condition",
    "needs.n.count",
    "patience",
    "priority",
    "rank",
    "rework",
    "setup",
    "setupBy",
    "teardown",
    "time",
  ]);
  expect(
    problems([into("in", "t2")], chain("in", "out"), [crate, { ...barrel, speed: "entity.size * 1 m/s" }]),
  ).toEqual(found("t2", "speed", "Barrel has no size"));
});

test("an attribute goes by those before it, of its own type", () => {
  const types = (attributes: Loose[]) => [
    { id: "t1", name: "Crate", attributes },
    { id: "t2", name: "Barrel", attributes: [{ name: "depth", value: "1" }] },
  ];
  const of = (attributes: Loose[]) =>
    problems([into("in", "t1")], chain("in", "out"), types(attributes)).map((p) => [p.code, p.field]);
  expect(
    of([
      { name: "size", value: "2" },
      { name: "weight", value: "entity.size * 3" },
    ]),
  ).toEqual([]);
  expect(of([{ name: "weight", value: "entity.depth * 3" }])).toEqual([
    ["attribute-of-other-type", "attribute weight"],
  ]);
  expect(
    of([
      { name: "weight", value: "entity.size * 3" },
      { name: "size", value: "2" },
    ]).map(([, field]) => field),
  ).toContain("attribute weight");
  expect(of([{ name: "weight", value: "entity.weight * 3" }]).map(([, field]) => field)).toContain("attribute weight");
});

test("an attribute given at arrival is one that all who arrive have", () => {
  const sets = [{ id: "s", attribute: "size", value: "2" }];
  expect(problems([into("in", "t2", { sets })], chain("in", "out")).map((p) => [p.code, p.field])).toEqual([
    ["missing-attribute", "sets.s.attribute"],
  ]);
});

test("no entity sees what another, whose place in memory it took, had", () => {
  // One of each type in turn, alone in the system, so that each takes the other's token.
  const types = [crate, { id: "t2", name: "Barrel", attributes: [{ name: "depth", value: "7" }] }];
  const elements = [
    into("a", "t1", { between: "20 s", first: "0 s" }),
    into("b", "t2", { between: "20 s", first: "10 s" }),
    reader({ time: "if(entity.type is Crate, entity.size, entity.depth) * 1 s" }),
    out,
  ];
  const of = measures(elements, [...chain("a", "s", "out"), ...chain("b", "s")], { length: "1000 s" }, types);
  expect([of("t1/worked.mean"), of("t2/worked.mean")]).toEqual([5, 7]);
});

test("pieces keep the attributes of what they were cut from", () => {
  const p = program(
    study({
      elements: [into("in", "t1"), { id: "c", kind: "split", does: "cut", count: "3" }, reader({ capacity: "9" }), out],
      links: chain("in", "c", "s", "out"),
      types: [crate],
      run: { length: "100 s" },
    }),
  );
  expect(run(p, { seed: 1, replication: 1 })!.values[measuresOf(p).findIndex((m) => m.key === "t1/worked.mean")]).toBe(
    6,
  );
});
